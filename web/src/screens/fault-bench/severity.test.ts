import { describe, expect, it } from 'vitest';

import { STEPS, stepOf, valueOf } from './severity';

const RANGES = [
  { least: 0.001, most: 1e6 },
  { least: 0, most: 100 },
  { least: 0.05, most: 0.95 },
  { least: 20, most: 200 },
];

describe('the slider of a severity', () => {
  it.each(RANGES)('goes from $least to $most and never back', (range) => {
    expect(valueOf(range, 0)).toBe(range.least);
    expect(valueOf(range, STEPS)).toBe(range.most);
    let last = range.least;
    for (let step = 0; step <= STEPS; step++) {
      const value = valueOf(range, step);
      expect(value).toBeGreaterThanOrEqual(last);
      // Two figures may stand for several steps, and a step for itself.
      expect(valueOf(range, stepOf(range, value))).toBeCloseTo(value, 9);
      last = value;
    }
  });

  it('gives a decade of ohms as much room as another', () => {
    const range = { least: 0.01, most: 100 };
    const at = [0.01, 0.1, 1, 10, 100].map((v) => stepOf(range, v));
    expect(at).toEqual([0, 50, 100, 150, 200]);
  });
});
