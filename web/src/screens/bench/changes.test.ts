import { describe, expect, it } from 'vitest';

import type { BenchView } from '../../api/client';
import { bench } from '../../test/attempt';
import { changed } from './changes';

type Line = BenchView['ledger'][number];
type Shot = BenchView['captures'][number];

const line = (step: number, more: Partial<Line> = {}) => ({ step, verdict: null, note: null, ...more }) as Line;
const shot = (step: number) => ({ step, verdict: null }) as unknown as Shot;

describe('what a step changed', () => {
  it('comes after what was known', () => {
    const old = bench({ steps: 3, ledger: [line(1), line(3)], repairs: ['W1 joined'], notes: ['a'] });
    const now = changed(old, bench({ steps: 5, ledger: [line(5)], repairs: ['W2 renewed'], notes: ['b'] }));
    expect(now.ledger.map((l) => l.step)).toEqual([1, 3, 5]);
    expect(now.repairs).toEqual(['W1 joined', 'W2 renewed']);
    expect(now.notes).toEqual(['a', 'b']);
    expect(now.steps).toBe(5);
  });

  it('takes the place of a line that was known', () => {
    const old = bench({ ledger: [line(1), line(3)] });
    const now = changed(old, bench({ ledger: [line(1, { verdict: 'too_low' })] }));
    expect(now.ledger.map((l) => [l.step, l.verdict])).toEqual([
      [1, 'too_low'],
      [3, null],
    ]);
  });

  it('keeps the last trial, and the last four screens', () => {
    const tried = { text: 'No crank.', trials: [] };
    const old = bench({ tried, captures: [1, 2, 3, 4].map(shot) });
    const now = changed(old, bench({ captures: [shot(6)] }));
    expect(now.tried).toBe(tried);
    expect(now.captures.map((c) => c.step)).toEqual([2, 3, 4, 6]);
  });
});
