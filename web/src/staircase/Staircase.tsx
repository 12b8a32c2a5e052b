// The voltage staircase: a current path laid flat; each step down is a drop. It draws what it is
// given and knows nothing of how the values came about.
import { memo } from 'react';

import { useIsLit, useLighting } from '../diagram/chosen';
import { brick, copper, ink, quiet, rule, slate, verdigris } from '../theme';

export type StairPoint = {
  point: string;
  /** A level of the continuous lines, in volts. */
  line?: number;
  dotted?: number;
  /** A single reading. */
  dot?: { volts: number; tone: 'good' | 'bad' | 'plain' };
  /** What was expected of that reading. */
  expected?: number;
  /** The places passed on the way here from the point before, as they are held. */
  passed?: { place: string; held: 'open' | 'cleared' | 'suspect' }[];
};

type Props = {
  label: string;
  points: StairPoint[];
  top: number;
  lineColour?: string;
  /** A step to point at: the stop it ends at, and words. */
  note?: { stop: number; text: string } | null;
  onPoint?: (id: string) => void;
  /** A lead on a stop. */
  active?: string;
  /** A place between two stops was clicked. */
  onPlace?: (place: string) => void;
};

/** Between two stops there is room for so many marks. */
const MOST_MARKS = 3;
const MARKS = {
  open: { fill: '#fff', stroke: rule, ink: quiet, sign: '' },
  cleared: { fill: '#fff', stroke: verdigris, ink: verdigris, sign: '✓' },
  suspect: { fill: brick, stroke: brick, ink: '#fff', sign: '?' },
};

const WIDTH = 880;
const HEIGHT = 160;
const LEFT = 34;
const FLOOR = 116;
/** About so many lines are drawn behind the steps. */
const LINES = 4;
/** Whole volts between two lines. */
const SPACINGS = [1, 2, 4, 5, 8, 10, 20];

/** Volts at which a line is drawn, from 0 up. */
export function ticksTo(top: number): number[] {
  const spacing = SPACINGS.find((s) => top / s < LINES) ?? top;
  return Array.from({ length: Math.floor(top / spacing) + 1 }, (_, n) => n * spacing);
}
const TONES = { good: verdigris, bad: brick, plain: slate };

export const Staircase = memo(function Staircase(props: Props) {
  const { points, top } = props;
  const x = (n: number) => LEFT + 14 + (n * (WIDTH - LEFT - 62)) / Math.max(1, points.length - 1);
  const y = (volts: number) => FLOOR - (Math.min(Math.max(volts, -0.5), top) / top) * (FLOOR - 10);
  const steps = (pick: (p: StairPoint) => number | undefined) => {
    let d = '';
    points.forEach((p, n) => {
      const volts = pick(p);
      if (volts === undefined) return;
      // A step lies half-way between two stops: on what lies between them.
      d += d === '' ? `M${x(n)} ${y(volts)}` : `H${(x(n) + x(n - 1)) / 2}V${y(volts)}H${x(n)}`;
    });
    return d;
  };
  const expectations = points.flatMap((p, n) => (p.expected === undefined ? [] : [`${x(n)},${y(p.expected)}`]));
  const ticks = ticksTo(top);
  return (
    <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} style={{ width: '100%', height: 162 }} role="img" aria-label={props.label}>
      {ticks.map((t) => (
        <g key={t}>
          <line x1={LEFT + 8} x2={WIDTH - 8} y1={y(t)} y2={y(t)} stroke={rule} strokeWidth={0.8} />
          <text className="svg-mono" x={LEFT} y={y(t) + 4} textAnchor="end">
            {t}
          </text>
        </g>
      ))}
      <path d={steps((p) => p.dotted)} fill="none" stroke={ink} strokeWidth={1.4} strokeDasharray="2 3" />
      <path d={steps((p) => p.line)} fill="none" stroke={props.lineColour ?? ink} strokeWidth={2} />
      {expectations.length > 1 && (
        <polyline points={expectations.join(' ')} fill="none" stroke={quiet} strokeWidth={1.3} strokeDasharray="6 4" />
      )}
      {points.flatMap((p, n) =>
        (p.passed ?? []).slice(0, MOST_MARKS).map(({ place, held }, k, all) => {
          const mark = MARKS[held];
          const at = (x(n) + x(n - 1)) / 2 + (k - (all.length - 1) / 2) * 11;
          return (
            <g
              key={`${place} ${n}`}
              data-passed={place}
              data-held={held}
              transform={`translate(${at} 7)`}
              onClick={() => props.onPlace?.(place)}
              style={{ cursor: props.onPlace ? 'pointer' : undefined }}
            >
              <title>{held === 'open' ? place : `${place}: ${held}`}</title>
              <circle r={5} fill={mark.fill} stroke={mark.stroke} />
              <text y={3.4} textAnchor="middle" fontSize={9} fontWeight={700} fill={mark.ink}>
                {mark.sign}
              </text>
            </g>
          );
        }),
      )}
      {points.map((p, n) => (
        <g key={`${p.point}-${n}`}>
          {p.expected !== undefined && (
            <path d={`M${x(n) - 5} ${y(p.expected)}H${x(n) + 5}`} stroke={quiet} strokeWidth={2} />
          )}
          {p.dot && p.expected !== undefined && p.dot.tone === 'bad' && (
            <line
              x1={x(n)}
              x2={x(n)}
              y1={y(p.expected)}
              y2={y(p.dot.volts)}
              stroke={brick}
              strokeWidth={1.4}
              strokeDasharray="4 3"
            />
          )}
          {p.dot && <circle cx={x(n)} cy={y(p.dot.volts)} r={4.5} fill={TONES[p.dot.tone]} />}
          <g
            transform={`translate(${x(n) + 3} ${FLOOR + 13}) rotate(${points.length > 11 ? 27 : 0})`}
            onClick={() => props.onPoint?.(p.point)}
            style={{ cursor: props.onPoint ? 'pointer' : undefined }}
          >
            <StopName point={p.point} active={p.point === props.active} slanted={points.length > 11} />
          </g>
        </g>
      ))}
      {props.note && points[props.note.stop] && (
        <text
          className="svg-mono svg-brick"
          x={Math.min((x(props.note.stop) + x(Math.max(0, props.note.stop - 1))) / 2 + 7, WIDTH - 150)}
          y={y(top / 2)}
        >
          {props.note.text}
        </text>
      )}
    </svg>
  );
});

/** The name of a stop; it lights up with the diagram. */
function StopName({ point, active, slanted }: { point: string; active: boolean; slanted: boolean }) {
  const lit = useIsLit(point);
  const style = lit ? { fontWeight: 600, fill: copper } : active ? { fontWeight: 600, fill: ink } : undefined;
  return (
    <text className="svg-mono" textAnchor={slanted ? 'start' : 'middle'} style={style} {...useLighting(point)}>
      {point.replace('metal:', '')}
    </text>
  );
}
