// What a place or a test point is, in a line.
import type { Drawing } from '../api/client';
import { colourWords } from './colours';

const joined = (...words: (string | null | undefined)[]) => words.filter(Boolean).join(' · ');

/** Nothing where the drawing does not know the id. */
export function describe(drawing: Drawing, id: string): string | undefined {
  const wire = drawing.wires.find((w) => w.id === id);
  if (wire) {
    const area = wire.label.replace(wire.color ?? '', '').trim();
    const size = /^[\d.]+$/.test(area) ? `${area} mm²` : area;
    const ends = wire.from && wire.to ? `${wire.from} to ${wire.to}` : '';
    return joined(id, `${size} ${colourWords(wire.color)}`.trim(), ends);
  }
  const part = drawing.parts.find((p) => p.id === id || `${p.id}.mount` === id);
  if (part) {
    if (part.id !== id) return joined(part.id, 'case', `bolted to the ${part.mount ?? 'metal'}`);
    return joined(id, part.name, part.rating);
  }
  const cavity = drawing.cavities.find((c) => c.id === id);
  if (cavity) {
    const connector = drawing.connectors.find((c) => c.id === cavity.connector);
    return joined(id, `cavity of ${cavity.connector}`, connector?.place);
  }
  const ground = drawing.grounds.find((g) => g.id === id);
  if (ground) return joined(id, `ground on the ${ground.metal}`, ground.place);
  if (drawing.splices.includes(id)) return joined(id, 'splice');
  const point = drawing.points.find((p) => p.id === id);
  return point && joined(id, point.about);
}
