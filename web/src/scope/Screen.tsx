// The oscilloscope's screen: each channel in a band of its own against one time. It draws the least
// and the most of each column as the server gave them.
import type { Capture } from '../api/client';
import { copper, ink, rule, slate, verdigris } from '../theme';

const COLOURS = [ink, copper, verdigris, slate];
const WIDTH = 880;
const LEFT = 150;
const GRID = 10;

type Props = {
  capture: Capture;
  /** Another one to lay behind, dotted: the healthy machine. */
  behind?: Capture;
  /** Two cursors, by column. */
  cursors?: { a: number; b: number };
  /** What stands beside each channel in place of its features. */
  said?: string[][];
  height: number;
};

export function Screen({ capture, behind, cursors, said, height }: Props) {
  const bands = capture.traces.length;
  const band = (height - 18) / bands;
  const x = (column: number, of: number) => LEFT + (column * (WIDTH - LEFT - 8)) / (of - 1);
  const trigger = LEFT + (capture.before_s / capture.sweep_s) * (WIDTH - LEFT - 8);
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${height}`}
      style={{ width: '100%', height }}
      role="img"
      aria-label={`Oscilloscope: ${capture.traces.map((t) => `${t.name}, ${t.features.said.join(', ')}`).join('; ')}`}
    >
      {Array.from({ length: GRID + 1 }, (_, n) => (
        <line
          key={n}
          x1={x(n, GRID + 1)}
          x2={x(n, GRID + 1)}
          y1={0}
          y2={height - 18}
          stroke={rule}
          strokeWidth={n % 5 === 0 ? 1 : 0.5}
        />
      ))}
      {capture.traces.map((trace, n) => {
        const other = behind?.traces[n];
        const all = [...trace.columns, ...(other?.columns ?? [])];
        const least = Math.min(...all.map((c) => c[0] ?? 0));
        const most = Math.max(...all.map((c) => c[1] ?? 0));
        const span = most - least || 1;
        const y = (v: number) => n * band + 6 + (1 - (v - least) / span) * (band - 12);
        const path = (columns: number[][]) => {
          const up = columns.map((c, at) => `${x(at, columns.length).toFixed(1)},${y(c[1] ?? 0).toFixed(1)}`);
          const down = columns.map((c, at) => `${x(at, columns.length).toFixed(1)},${y(c[0] ?? 0).toFixed(1)}`);
          return `M${up.join('L')}L${down.reverse().join('L')}Z`;
        };
        const zero = least <= 0 && most >= 0 ? y(0) : undefined;
        return (
          <g key={trace.name}>
            {n > 0 && <line x1={0} x2={WIDTH} y1={n * band} y2={n * band} stroke={rule} />}
            {zero !== undefined && <line x1={LEFT} x2={WIDTH - 8} y1={zero} y2={zero} stroke={rule} />}
            {other && (
              <path d={path(other.columns)} fill="none" stroke="#8f8776" strokeWidth={1} strokeDasharray="2 2" />
            )}
            <path
              d={path(trace.columns)}
              fill={COLOURS[n]}
              stroke={COLOURS[n]}
              strokeWidth={1.2}
              strokeLinejoin="round"
            />
            <text className="svg-mono" x={0} y={n * band + 15} style={{ fill: COLOURS[n], fontWeight: 600 }}>
              {n + 1} {trace.name}
            </text>
            {(said?.[n] ?? trace.features.said).slice(0, 3).map((text, row) =>
              15 + (row + 1) * 14 < band ? (
                <text key={text} className="svg-mono" x={0} y={n * band + 29 + row * 14}>
                  {text}
                </text>
              ) : null,
            )}
          </g>
        );
      })}
      {cursors &&
        (['a', 'b'] as const).map((which) => {
          const at = x(cursors[which], capture.traces[0]?.columns.length ?? 2);
          return (
            <g key={which} data-cursor={which}>
              <line x1={at} x2={at} y1={0} y2={height - 18} stroke={ink} strokeDasharray="5 3" />
              <text className="svg-mono svg-bold" x={at + 3} y={height - 21}>
                {which.toUpperCase()}
              </text>
            </g>
          );
        })}
      {capture.triggered && <path d={`M${trigger - 5} 0H${trigger + 5}L${trigger} 7Z`} fill={copper} />}
      <text className="svg-mono" x={LEFT} y={height - 4}>
        {capture.triggered ? 'triggered' : 'free running'}
      </text>
      <text className="svg-mono" x={WIDTH - 8} y={height - 4} textAnchor="end">
        {time(capture.sweep_s / GRID)} a division
      </text>
    </svg>
  );
}

/** Seconds as they are written on a scope. */
export function time(seconds: number): string {
  if (seconds >= 1) return `${+seconds.toPrecision(3)} s`;
  if (seconds >= 1e-3) return `${+(seconds * 1e3).toPrecision(3)} ms`;
  return `${+(seconds * 1e6).toPrecision(3)} µs`;
}
