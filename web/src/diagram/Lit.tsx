// What is chosen, or pointed at anywhere on the page, lit up on the diagram.
import { memo } from 'react';

import type { Drawing } from '../api/client';
import { copper } from '../theme';
import { useChosen } from './chosen';
import { path, type Scene } from './scene';

/** Below everything else: bands along wires, fields behind parts. */
export const Lit = memo(function Lit({ drawing, scene }: { drawing: Drawing; scene: Scene }) {
  const { chosen, hovered } = useChosen();
  return [
    { id: hovered, opacity: 0.3 },
    { id: chosen, opacity: 0.45 },
  ].map(({ id, opacity }, n) => id && <LitPlace key={n} drawing={drawing} scene={scene} id={id} opacity={opacity} />);
});

function LitPlace(props: { drawing: Drawing; scene: Scene; id: string; opacity: number }) {
  const { drawing, scene, id, opacity } = props;
  const cavity = drawing.cavities.find((c) => c.id === id);
  const points = cavity ? [cavity.male, cavity.female] : [id];
  const lines = [...scene.wires.filter((w) => w.id === id), ...scene.strokes.filter((s) => s.own === id)];
  const boxes = scene.boxes.filter((b) => b.id === id);
  const symbols = scene.symbols.filter((s) => s.id === id && s.of === 'part');
  return (
    <g data-lit={id} fill={copper} stroke={copper} opacity={opacity} pointerEvents="none">
      {lines.map((l, n) => (
        <path key={n} d={path(l.path)} fill="none" strokeWidth={11} strokeLinecap="round" />
      ))}
      {boxes.map((b) => (
        <rect key={b.id} x={b.x - 4} y={b.y - 4} width={b.width + 8} height={b.height + 8} rx={5} stroke="none" />
      ))}
      {symbols.map((s) => (
        <rect key={s.id} x={s.x - 13} y={s.y - 14} width={26} height={28} rx={5} stroke="none" />
      ))}
      {scene.points
        .filter((p) => points.includes(p.id))
        .map((p, n) => (
          <circle key={n} cx={p.x} cy={p.y} r={7} stroke="none" />
        ))}
    </g>
  );
}
