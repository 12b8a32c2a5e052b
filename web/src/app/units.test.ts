import { describe, expect, it } from 'vitest';

import { shownDegrees, shownSize, typedDegrees, typedSize } from './units';

describe('a size as it was typed', () => {
  it.each([
    ['1.5', 'mm², °C', { area_mm2: 1.5 }],
    ['1,5', 'mm², °C', { area_mm2: 1.5 }],
    ['16', 'AWG, °F', { awg: 16 }],
    ['16 AWG', 'mm², °C', { awg: 16 }],
    ['awg 18', 'mm², °C', { awg: 18 }],
    ['2/0', 'mm², °C', { awg: -1 }],
    ['1.5 mm2', 'AWG, °F', { area_mm2: 1.5 }],
    ['carbon', 'mm², °C', { lead: 'carbon' }],
    ['wire wound', 'mm², °C', { lead: 'wire_wound' }],
    ['cop', 'mm², °C', { lead: 'copper' }],
  ] as const)('%s in %s', (text, units, size) => expect(typedSize(text, units)).toEqual(size));

  it.each(['', 'sixty', '1.5.5', 'co'])('%j is none', (text) => expect(typedSize(text, 'mm², °C')).toBeUndefined());
});

describe('a size as it is shown', () => {
  it('is read back as it was', () => {
    for (const size of [{ area_mm2: 2.5 }, { awg: 16 }, { awg: 0 }, { awg: -1 }, { lead: 'wire_wound' as const }])
      for (const units of ['mm², °C', 'AWG, °F'] as const)
        expect(typedSize(shownSize(size, units), units)).toEqual(size);
  });

  it('is nothing for a wire without one', () => expect(shownSize({}, 'mm², °C')).toBe(''));
});

describe('degrees', () => {
  it('are read back as they were', () => {
    expect(shownDegrees(90, 'AWG, °F')).toBe(194);
    expect(typedDegrees(194, 'AWG, °F')).toBe(90);
    expect(typedDegrees(shownDegrees(20, 'mm², °C'), 'mm², °C')).toBe(20);
  });
});
