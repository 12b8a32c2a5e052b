// Leads from the meter to their points, and what was joined by hand.
import { ink } from '../theme';
import type { Scene, Spot } from './scene';

const COLOURS = { red: '#c0392b', black: '#1f2a33' };

type Props = {
  scene: Scene;
  /** The points that the meter's leads are on. */
  leads: { red?: string; black?: string };
  /** Pairs of points that a lead joins. */
  joined: readonly (readonly string[])[];
};

export function Leads({ scene, leads, joined }: Props) {
  const spot = (id?: string) => (id ? scene.points.find((p) => p.id === id) : undefined);
  const plugs = { red: { x: scene.width, y: scene.height * 0.3 }, black: { x: scene.width, y: scene.height * 0.36 } };
  return (
    <g fill="none" pointerEvents="none" strokeLinecap="round">
      {(['red', 'black'] as const).map((lead) => {
        const at = spot(leads[lead]);
        return (
          at && (
            <path
              key={lead}
              data-lead={lead}
              d={hanging(at, plugs[lead])}
              stroke={COLOURS[lead]}
              strokeWidth={1.3}
              opacity={0.25}
            />
          )
        );
      })}
      {joined.map(([from, to]) => {
        const [a, b] = [spot(from), spot(to)];
        return (
          a &&
          b && (
            <g key={`${from} ${to}`} data-joined={`${from} ${to}`} stroke="#d9772b">
              <title>{`a lead joins ${from} and ${to}`}</title>
              <path d={hanging(a, b)} strokeWidth={2.6} />
              <circle cx={a.x} cy={a.y} r={4.4} fill="#d9772b" stroke={ink} strokeWidth={0.8} />
              <circle cx={b.x} cy={b.y} r={4.4} fill="#d9772b" stroke={ink} strokeWidth={0.8} />
            </g>
          )
        );
      })}
    </g>
  );
}

/** A cable hangs through between two spots. */
function hanging(a: Spot, b: Spot): string {
  const sag = Math.min(40, 10 + Math.abs(a.x - b.x) / 8);
  return `M${a.x} ${a.y}C${a.x + (b.x - a.x) / 3} ${a.y + sag} ${a.x + (2 * (b.x - a.x)) / 3} ${b.y + sag} ${b.x} ${b.y}`;
}
