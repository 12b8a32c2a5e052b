import { describe, expect, it } from 'vitest';

import { ALL, attempt, bench, ledgerLine } from '../../test/attempt';
import { fromHere, held, passedTo, placesAlong, readMarks, stairPoints, stateInWords } from './stairs';

const path = attempt().paths[0];
const known = new Set(['W1', 'C1.1', 'W2']);
const reads = {
  state: 'off · lamps on',
  negative: 'B7.-',
  instrument: (fn: string) => ALL.find((i) => i.function === fn)!,
};

describe('the steps of the staircase', () => {
  it('shows what was read in the present state, whatever the battery is called, on a machine without a key', () => {
    const [post, lamp] = stairPoints(
      ['B7.+', 'H1.1'],
      [ledgerLine(3, { verdict: 'normal', expected_value: 12.4 })],
      reads,
    );
    expect(post).toEqual({ point: 'B7.+' });
    expect(lamp).toEqual({ point: 'H1.1', expected: 12.4, dot: { volts: 12.31, tone: 'good' } });
  });

  it('shows the latest of several readings', () => {
    const later = ledgerLine(5, { shown: { ...ledgerLine(5).shown, value: { number: 9 } } });
    expect(stairPoints(['H1.1'], [ledgerLine(3), later], reads)[0]?.dot?.volts).toBe(9);
  });

  it.each([
    ['another state', { state: 'off' }],
    ['another black lead', { black: 'G1' }],
    ['another function', { function: 'ohms' as const }],
  ])('leaves out a reading of %s', (_, more) => {
    expect(stairPoints(['H1.1'], [ledgerLine(3, more)], reads)[0]?.dot).toBeUndefined();
  });

  it('draws no dot for what is over limit', () => {
    const over = ledgerLine(3, { shown: { ...ledgerLine(3).shown, text: 'OL', value: 'over_limit' as never } });
    expect(stairPoints(['H1.1'], [over], reads)[0]?.dot).toBeUndefined();
  });

  it('is red where the verdict says so, and plain without one', () => {
    expect(stairPoints(['H1.1'], [ledgerLine(3, { verdict: 'too_low' })], reads)[0]?.dot?.tone).toBe('bad');
    expect(stairPoints(['H1.1'], [ledgerLine(3)], reads)[0]?.dot?.tone).toBe('plain');
  });
});

describe('the places along a path', () => {
  it('are each named once, and only those that are places', () => {
    expect(placesAlong(path, known)).toEqual(['W1', 'C1.1', 'W2']);
    expect(placesAlong(path, new Set(['W2']))).toEqual(['W2']);
    expect(placesAlong(undefined, known)).toEqual([]);
  });

  it('lie before the next stop that can be reached', () => {
    const view = bench({ cleared: ['W1'], suspected: ['W2'] });
    expect(passedTo(path, view, known)).toEqual([
      [],
      [{ place: 'W1', held: 'cleared' }],
      [
        { place: 'C1.1', held: 'open' },
        { place: 'W2', held: 'suspect' },
      ],
    ]);
  });

  it('are open until something is said of them', () => {
    expect(held(bench(), 'W1')).toBe('open');
  });
});

describe('a state in a word', () => {
  it('begins with the position of the key', () =>
    expect(stateInWords('start · clutch down', true)).toBe('start · clutch down'));
  it('is what is switched where there is no key', () => expect(stateInWords('off · lamps on', false)).toBe('lamps on'));
  it('is at rest where nothing is', () => expect(stateInWords('off', false)).toBe('at rest'));
});

describe('what was read on the diagram', () => {
  it('stands at its points, in the present state only', () => {
    const lines = [ledgerLine(3, { verdict: 'too_low' }), ledgerLine(4, { red: 'B7.+', state: 'off' })];
    const marks = readMarks(lines, reads, 12);
    expect(Object.keys(marks)).toEqual(['H1.1']);
    expect(marks['H1.1']).toMatchObject({ tag: '12.31', tells: true });
  });
});

describe('a branch from a place on', () => {
  it('goes along the path to its end', () => {
    const all = placesAlong(path, known);
    expect(fromHere(path, all[1] ?? '', known)).toEqual(all.slice(1));
    expect(fromHere(path, 'X9', known)).toEqual([]);
  });
});
