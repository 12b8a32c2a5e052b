// A sketch of a harness: what hangs on it, in the order of its wires, the longer the way to it the further down.
import type { Schemas } from '../../api/client';
import { copper, ink, paper } from '../../theme';

type Hanging = Schemas['Hanging'];
type Props = { loom: Schemas['Loom'] };

const STEP = 92;
const TOP = 26;
const DEEP = 12;
const MOST_DEEP = 7;

export function Loom({ loom: { title, hanging } }: Props) {
  const width = Math.max(1, hanging.length) * STEP;
  const down = (it: Hanging) => TOP + 18 + DEEP * Math.min(MOST_DEEP, it.minutes ?? 0);
  const height = Math.max(...hanging.map(down), TOP) + 46;
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
        {hanging.map((it, n) => {
          const x = STEP * (n + 0.5);
          const y = down(it);
          return (
            <g key={it.id}>
              <path d={`M${x} ${TOP}V${y}`} stroke={ink} strokeWidth={2} />
              <Thing is={it.is} x={x} y={y} />
              <text x={x} y={y + 24} textAnchor="middle" fill={ink} fontSize={13} fontWeight={700}>
                {it.id}
              </text>
              <text x={x} y={y + 39} textAnchor="middle" fill={ink} fontSize={11}>
                {(it.place || it.about).slice(0, 14)}
              </text>
            </g>
          );
        })}
      </svg>
    </div>
  );
}

/** A connector, a ground, a splice or a part, each by its shape. */
function Thing({ is, x, y }: { is: Hanging['is']; x: number; y: number }) {
  const line = { stroke: ink, strokeWidth: 2, fill: paper };
  if (is === 'connector') return <rect x={x - 9} y={y - 6} width={18} height={12} rx={3} {...line} />;
  if (is === 'ground') return <path d={`M${x - 9} ${y}H${x + 9}M${x - 5} ${y + 4}H${x + 5}`} {...line} />;
  if (is === 'splice') return <circle cx={x} cy={y} r={4} fill={copper} stroke={ink} />;
  return <rect x={x - 12} y={y - 8} width={24} height={16} {...line} />;
}
