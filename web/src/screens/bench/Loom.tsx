// A sketch of a harness: what hangs on it, in the order of its wires, the longer the way to it the further down.
import { copper, ink, paper } from '../../theme';

type Props = { title: string; rows: string[][] };

const STEP = 92;
const TOP = 26;
const DEEP = 12;
const MOST_DEEP = 7;

export function Loom({ title, rows }: Props) {
  const width = Math.max(1, rows.length) * STEP;
  const down = (minutes: string | undefined) => TOP + 18 + DEEP * Math.min(MOST_DEEP, Number(minutes) || 0);
  const height = Math.max(...rows.map((r) => down(r[3])), TOP) + 46;
  return (
    <div className="loom" role="group" aria-label={`Sketch of ${title}`} tabIndex={0}>
      <svg
        width={width}
        height={height}
        viewBox={`0 0 ${width} ${height}`}
        role="img"
        aria-label={`Sketch of ${title}`}
      >
        <path d={`M${STEP / 2} ${TOP}H${width - STEP / 2}`} stroke={ink} strokeWidth={6} strokeLinecap="round" />
        {rows.map(([id = '', what = '', where = '', minutes], n) => {
          const x = STEP * (n + 0.5);
          const y = down(minutes);
          return (
            <g key={id}>
              <path d={`M${x} ${TOP}V${y}`} stroke={ink} strokeWidth={2} />
              <Thing what={what} x={x} y={y} />
              <text x={x} y={y + 24} textAnchor="middle" fill={ink} fontSize={13} fontWeight={700}>
                {id}
              </text>
              <text x={x} y={y + 39} textAnchor="middle" fill={ink} fontSize={11}>
                {(where || what).slice(0, 14)}
              </text>
            </g>
          );
        })}
      </svg>
    </div>
  );
}

/** A connector, a ground, a splice or a part, each by its shape. */
function Thing({ what, x, y }: { what: string; x: number; y: number }) {
  const line = { stroke: ink, strokeWidth: 2, fill: paper };
  if (what.startsWith('connector')) return <rect x={x - 9} y={y - 6} width={18} height={12} rx={3} {...line} />;
  if (what === 'ground') return <path d={`M${x - 9} ${y}H${x + 9}M${x - 5} ${y + 4}H${x + 5}`} {...line} />;
  if (what === 'splice') return <circle cx={x} cy={y} r={4} fill={copper} stroke={ink} />;
  return <rect x={x - 12} y={y - 8} width={24} height={16} {...line} />;
}
