// A diagram as the server laid it out for a sheet of some size.
import type { Schemas } from '../api/client';

export type Scene = Schemas['Scene'];
export type Spot = Schemas['Spot'];
export type SceneText = Schemas['Text'];
export type WireRun = Schemas['WireRun'];

/** The middle of whatever has this id: a part, a cavity, a wire, a test point, a ground. */
export function spotOf(scene: Scene, id: string): Spot | undefined {
  const box = scene.boxes.find((b) => b.id === id);
  if (box) return { x: box.x + box.width / 2, y: box.y + box.height / 2 };
  const thing = scene.symbols.find((s) => s.id === id) ?? scene.places.find((p) => p.id === id);
  return thing ?? scene.points.find((p) => p.id === id);
}

/** A path through spots. */
export function path(spots: readonly Spot[]): string {
  return spots.map((p, n) => `${n === 0 ? 'M' : 'L'}${p.x} ${p.y}`).join('');
}

/** A wire's label with the run that it stands beside. */
export type Label = { run: WireRun; number: SceneText; about?: SceneText };

/** The labels of the wires: each run has its own, in the order of the runs. */
export function labelsOf(scene: Scene): Label[] {
  const runs = new Map<string, WireRun[]>();
  for (const run of scene.wires) runs.set(run.id, [...(runs.get(run.id) ?? []), run]);
  const abouts = new Map<string, SceneText[]>();
  for (const text of scene.texts) {
    if (text.role === 'about') abouts.set(text.own, [...(abouts.get(text.own) ?? []), text]);
  }
  const seen = new Map<string, number>();
  return scene.texts.flatMap((number) => {
    if (number.role !== 'number') return [];
    const at = seen.get(number.own) ?? 0;
    seen.set(number.own, at + 1);
    const run = runs.get(number.own)?.[at];
    return run ? [{ run, number, about: abouts.get(number.own)?.[at] }] : [];
  });
}
