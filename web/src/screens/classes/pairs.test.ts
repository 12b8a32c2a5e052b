import { expect, test } from 'vitest';

import { inOrder, pairsOf, set } from './pairs';

test('students sit together as they come, and an odd one alone', () => {
  expect(pairsOf(inOrder([1, 2, 3, 4]))).toEqual([
    [1, 2],
    [3, 4],
  ]);
  expect(pairsOf(inOrder([1, 2, 3]))).toEqual([[1, 2]]);
});

test('who is set to a place changes with whoever was there', () => {
  expect(pairsOf(set(inOrder([1, 2, 3, 4]), 1, 4))).toEqual([
    [1, 4],
    [3, 2],
  ]);
  expect(pairsOf(set(inOrder([1, 2, 3]), 1, 3))).toEqual([[1, 3]]);
});

test('whoever is to work alone gets a bench of their own', () => {
  const benches = set(inOrder([1, 2, 3, 4]), 0, null);
  expect(pairsOf(benches)).toEqual([[3, 4]]);
  expect(benches.filter((s) => s !== null).sort()).toEqual([1, 2, 3, 4]);
  // An empty bench is none.
  const alone = set(set(inOrder([1, 2]), 0, null), 1, null);
  expect(alone.length).toBe(4);
  expect(pairsOf(set(alone, 1, alone[2] ?? null)).length).toBe(1);
});
