import { describe, expect, it } from 'vitest';

import { CLAMP, CODES, OHMS, VOLTS } from '../../../test/attempt';
import { freshMeter, meterReducer, type MeterEvent, type MeterState } from './state';

const after = (...events: MeterEvent[]): MeterState => events.reduce(meterReducer, freshMeter('dc_volts', 'B7.-'));

describe('where a point goes that is touched', () => {
  it('goes to the red lead first, and black stays on battery negative', () => {
    expect(after({ do: 'point', point: 'H1.1' }).leads).toEqual({ red: 'H1.1', black: 'B7.-' });
  });

  it('goes to the black lead once its field was chosen, and to red again after that', () => {
    const chosen = after(
      { do: 'put', lead: 'red', point: 'H1.1' },
      { do: 'activate', lead: 'black' },
      { do: 'point', point: 'G1' },
    );
    expect(chosen.leads).toEqual({ red: 'H1.1', black: 'G1' });
    expect(meterReducer(chosen, { do: 'point', point: 'W' }).leads).toEqual({ red: 'W', black: 'G1' });
  });

  it('goes to black by itself when only black is on nothing', () => {
    expect(
      after(
        { do: 'put', lead: 'red', point: 'H1.1' },
        { do: 'put', lead: 'black', point: '' },
        { do: 'point', point: 'G1' },
      ).leads.black,
    ).toBe('G1');
  });
});

describe('what the display shows', () => {
  const shown = after({ do: 'taken', step: 4 });

  it('is the reading that was taken, with the expectation gone', () => {
    expect(after({ do: 'expect', text: '12' }, { do: 'taken', step: 4 })).toMatchObject({
      shown: 4,
      expected: '',
      supposing: null,
    });
  });

  const changes: MeterEvent[] = [
    { do: 'put', lead: 'black', point: 'G1' },
    { do: 'point', point: 'G1' },
    { do: 'set', to: OHMS, from: VOLTS, modules: [] },
    { do: 'touch', touch: 'pierce' },
    { do: 'adjust', setting: 6 },
    { do: 'blank' },
  ];
  it.each(changes)('is nothing after $do', (change) => {
    expect(meterReducer(shown, change).shown).toBeUndefined();
  });

  it.each<MeterEvent>([
    { do: 'activate', lead: 'black' },
    { do: 'expect', text: '5' },
  ])('stays after $do', (change) => {
    expect(meterReducer(shown, change).shown).toBe(4);
  });
});

describe('changing the instrument', () => {
  it('leaves the leads where they are between functions of one kind', () => {
    expect(
      after({ do: 'put', lead: 'red', point: 'H1.1' }, { do: 'set', to: OHMS, from: VOLTS, modules: [] }).leads.red,
    ).toBe('H1.1');
  });

  it('takes the red lead off when it goes round a wire', () => {
    expect(
      after({ do: 'put', lead: 'red', point: 'H1.1' }, { do: 'set', to: CLAMP, from: VOLTS, modules: [] }).leads.red,
    ).toBe('');
  });

  it('goes to the first module there is', () => {
    expect(after({ do: 'set', to: CODES, from: VOLTS, modules: ['U1', 'U2'] }).leads.red).toBe('U1');
    expect(after({ do: 'set', to: CODES, from: VOLTS, modules: [] }).leads.red).toBe('');
  });
});
