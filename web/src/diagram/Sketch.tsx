// What somebody sketched on the diagram: words at places, and arrows between them, as with a pencil.
import type { Schemas } from '../api/client';
import { paper } from '../theme';
import { spotOf, type Scene } from './scene';

export type SketchMark = Schemas['SketchMark'];

const PENCIL = '#5B4B8A';
/** How far beside its place a word stands, and how far short of it an arrow ends. */
const BESIDE = 12;
const SHORT = 9;

type Props = { scene: Scene; marks: readonly SketchMark[] };

export function Sketch({ scene, marks }: Props) {
  return (
    <g className="sketch" pointerEvents="none" aria-hidden="true">
      {marks.map((mark, n) => {
        const from = spotOf(scene, mark.at);
        const to = mark.to ? spotOf(scene, mark.to) : undefined;
        // What was sketched on another version of the machine may have no place here.
        if (!from || (mark.to && !to)) return null;
        const at = to ? { x: (from.x + to.x) / 2, y: (from.y + to.y) / 2 } : from;
        return (
          <g key={n} data-sketch={mark.at}>
            {to ? (
              <Arrow from={from} to={to} />
            ) : (
              <circle cx={from.x} cy={from.y} r={9} fill="none" stroke={PENCIL} strokeWidth={1.6} />
            )}
            {mark.text && (
              <text
                x={at.x + BESIDE}
                y={at.y - BESIDE / 2}
                fontSize={11}
                fontStyle="italic"
                fill={PENCIL}
                stroke={paper}
                strokeWidth={3}
                paintOrder="stroke"
              >
                {mark.text}
              </text>
            )}
          </g>
        );
      })}
    </g>
  );
}

type Spot = { x: number; y: number };

function Arrow({ from, to }: { from: Spot; to: Spot }) {
  const [dx, dy] = [to.x - from.x, to.y - from.y];
  const far = Math.hypot(dx, dy) || 1;
  const [ux, uy] = [dx / far, dy / far];
  const end = { x: to.x - SHORT * ux, y: to.y - SHORT * uy };
  const wing = (side: number) => `${end.x - 7 * ux + side * 4 * uy} ${end.y - 7 * uy - side * 4 * ux}`;
  return (
    <path
      d={`M${from.x} ${from.y}L${end.x} ${end.y}M${wing(1)}L${end.x} ${end.y}L${wing(-1)}`}
      fill="none"
      stroke={PENCIL}
      strokeWidth={1.6}
    />
  );
}
