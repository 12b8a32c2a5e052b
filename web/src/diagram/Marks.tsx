// What is known of places: ruled out, held suspect, faulted.
import { brick, verdigris } from '../theme';
import type { Scene, Spot } from './scene';

type Props = {
  scene: Scene;
  faults?: Record<string, string>;
  cleared?: readonly string[];
  suspected?: readonly string[];
};

export function Marks({ scene, faults, cleared, suspected }: Props) {
  return scene.places.map(({ id, x, y }, n) => {
    const fault = faults?.[id];
    if (fault) return <FaultMark key={n} id={id} spot={{ x, y }} word={fault} />;
    if (cleared?.includes(id)) return <Tick key={n} spot={{ x, y }} id={id} />;
    if (suspected?.includes(id)) return <Query key={n} spot={{ x, y }} id={id} />;
    return null;
  });
}

function Tick({ spot, id }: { spot: Spot; id: string }) {
  return (
    <g transform={`translate(${spot.x} ${spot.y})`} data-cleared={id}>
      <title>{`${id}: ruled out`}</title>
      <circle r={4.3} fill="#fff" stroke={verdigris} strokeWidth={1.1} />
      <path d="M-2.1 0L-0.7 1.8L2.2 -1.8" fill="none" stroke={verdigris} strokeWidth={1.3} />
    </g>
  );
}

function Query({ spot, id }: { spot: Spot; id: string }) {
  return (
    <g transform={`translate(${spot.x} ${spot.y})`} data-suspected={id}>
      <title>{`${id}: suspect`}</title>
      <circle r={4.3} fill={brick} />
      <text y={2.6} textAnchor="middle" fontSize={7} fontWeight={700} fill="#fff">
        ?
      </text>
    </g>
  );
}

function FaultMark({ spot, id, word }: { spot: Spot; id: string; word: string }) {
  return (
    <g transform={`translate(${spot.x} ${spot.y})`} data-fault={id}>
      <title>{`${id}: ${word}`}</title>
      <rect x={-6} y={-6} width={12} height={12} rx={2} fill={brick} />
      <path d="M-3 -3L3 3M3 -3L-3 3" stroke="#fff" strokeWidth={1.5} />
    </g>
  );
}
