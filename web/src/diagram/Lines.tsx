// Wires in their own colours, and the lines that are no wires.
import { memo } from 'react';

import type { Drawing, Schemas } from '../api/client';
import { brick, ink, paper, quiet, verdigris } from '../theme';
import { wireColours, wireWidth } from './colours';
import { path, type Scene, type WireRun } from './scene';

type StrokeKind = Schemas['StrokeKind'];

const STROKES: Record<StrokeKind, { width: number; colour?: string; dash?: string }> = {
  rail: { width: 3.4 },
  link: { width: 3 },
  bar: { width: 2.2 },
  strip: { width: 3.2 },
  lead: { width: 1.2 },
  moves: { width: 0.9, dash: '3 2.4' },
  row: { width: 0.8, dash: '2.5 2.5', colour: '#a2967f' },
  ground: { width: 1.4 },
  ground_run: { width: 2.6 },
  metal: { width: 3 },
  mount: { width: 4 },
  chassis: { width: 1.5 },
};

export const Strokes = memo(function Strokes({ scene }: { scene: Scene }) {
  return scene.strokes.map((s, n) => {
    const { width, colour, dash } = STROKES[s.kind];
    const d = path(s.path);
    const [left] = s.path;
    return (
      <g key={n} fill="none" stroke={colour ?? ink}>
        <path d={d} strokeWidth={width} strokeDasharray={dash} strokeLinecap={s.kind === 'bar' ? 'round' : undefined} />
        {s.kind === 'mount' && <path d={d} strokeWidth={1.9} stroke={paper} />}
        {s.kind === 'chassis' && left && (
          <path
            d={[0, 6, 12].map((dx) => `M${left.x + dx} ${left.y}l-3 5`).join('')}
            strokeWidth={width}
            strokeLinecap="round"
          />
        )}
      </g>
    );
  });
});

type Wire = Drawing['wires'][number];

export const Wires = memo(function Wires(props: { drawing: Drawing; scene: Scene; onPlace?: (id: string) => void }) {
  const wires = new Map(props.drawing.wires.map((w) => [w.id, w]));
  return props.scene.wires.map((run, n) => {
    const wire = wires.get(run.id);
    return wire && <Run key={`${run.id} ${n}`} wire={wire} run={run} onPlace={props.onPlace} />;
  });
});

function Run({ wire, run, onPlace }: { wire: Wire; run: WireRun; onPlace?: (id: string) => void }) {
  const { base, tracer, light } = wireColours(wire.color);
  const width = wireWidth(wire.area_mm2);
  const d = path(run.path);
  return (
    <g onClick={() => onPlace?.(wire.id)} fill="none" strokeLinejoin="round" className="wire" data-wire={wire.id}>
      <title>{`${wire.id} ${wire.label}`}</title>
      <path d={d} stroke="transparent" strokeWidth={9} />
      {light && <path d={d} stroke="#6f6a5e" strokeWidth={width + 1.2} />}
      <path d={d} stroke={base} strokeWidth={width} />
      {tracer && <path d={d} stroke={tracer} strokeWidth={width * 0.5} strokeDasharray="6 4.5" />}
    </g>
  );
}

/** Where a cut wire goes on: the test point at its other end. */
export const CutTags = memo(function CutTags({ scene }: { scene: Scene }) {
  return scene.tags.map((tag, n) => (
    <path
      key={n}
      d={`M${tag.x - 4} ${tag.y}H${tag.x + 4}L${tag.x} ${tag.y + (tag.down ? 7 : -7)}Z`}
      fill={quiet}
      aria-hidden
    />
  ));
});

/** Wires that are ruled out have a soft band beside them, suspects a hatched one. */
export function WireBands(props: { scene: Scene; cleared: readonly string[]; suspected: readonly string[] }) {
  return props.scene.wires.map((run, n) => {
    const cleared = props.cleared.includes(run.id);
    if (!cleared && !props.suspected.includes(run.id)) return null;
    const look = cleared
      ? { stroke: verdigris, strokeOpacity: 0.28 }
      : { stroke: brick, strokeOpacity: 0.4, strokeDasharray: '2 2.5' };
    return <path key={n} d={path(run.path)} fill="none" strokeWidth={9} {...look} />;
  });
}
