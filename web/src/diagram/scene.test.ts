import { describe, expect, it } from 'vitest';

import { labelsOf, path, spotOf, type Scene } from './scene';

const run = (id: string, ends: [string, string]) => ({ id, ends, path: [] });
const text = (role: 'number' | 'about', own: string, y: number) => ({ role, own, text: own, x: 0, y });

const scene: Scene = {
  width: 100,
  height: 50,
  scale: 1,
  wires: [run('W1', ['F1.1', 'K3.86']), run('W2', ['A', 'B']), run('W1', ['tag', 'G1'])],
  texts: [
    text('number', 'W1', 1),
    text('about', 'W1', 2),
    text('number', 'W2', 3),
    text('number', 'W1', 4),
    text('about', 'W1', 5),
  ],
  boxes: [{ id: 'K3', x: 10, y: 10, width: 20, height: 10 }],
  symbols: [],
  strokes: [],
  tags: [],
  points: [{ id: 'G1', x: 5, y: 45 }],
  places: [{ id: 'W1', x: 7, y: 20 }],
};

describe('the labels of a wire', () => {
  it('stand beside its runs, also where it is cut in two', () => {
    const labels = labelsOf(scene);
    expect(labels.map((l) => [l.run.ends[0], l.number.y, l.about?.y])).toEqual([
      ['F1.1', 1, 2],
      ['A', 3, undefined],
      ['tag', 4, 5],
    ]);
  });
});

describe('where something is', () => {
  it.each([
    ['K3', { x: 20, y: 15 }],
    ['W1', { x: 7, y: 20 }],
    ['G1', { x: 5, y: 45 }],
  ])('is known of %s', (id, spot) => expect(spotOf(scene, id)).toMatchObject(spot));

  it('is known of nothing that is not drawn', () => expect(spotOf(scene, 'X9')).toBeUndefined());
});

it('goes from spot to spot', () => {
  const spots = [
    { x: 1, y: 2 },
    { x: 1, y: 9 },
  ];
  expect(path(spots)).toBe('M1 2L1 9');
});
