import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, describe, expect, it } from 'vitest';

import type { KeyRow } from '../../api/client';
import { served } from '../../test/served';
import { AnswerKey } from './AnswerKey';

const shown = (v: number) => ({ text: v.toFixed(2), unit: 'V', range: '60 V', value: { number: v }, beeps: false });
const row = (red: string, reason: string, apart: number) =>
  ({
    kind: 'point',
    state: 'start',
    function: 'dc_volts',
    red,
    black: 'BAT.-',
    place: null,
    healthy: shown(12),
    faulted: shown(12 - apart),
    tolerance: 0.2,
    tells: apart > 0,
    apart,
    reason,
  }) as unknown as KeyRow;

const ROWS = [
  row('F1.1', 'the battery gives less', 1),
  row('K3.86', 'lost across W8', 12),
  row('BAT.+', 'the battery gives less', 1.1),
  row('S2.2', 'lost across W8', 11),
];

const PATHS = [{ title: 'Relay coil', points: ['S2.2', 'K3.86'] }];

const texts = () => [...document.querySelectorAll('#answer-key tbody tr')].map((r) => r.textContent);

describe('the answer key', () => {
  beforeEach(() => document.body.replaceChildren());

  it('says a reason once, above its rows, what tells most first', async () => {
    served(<AnswerKey circuit={1} faults={[{ place: 'W8', mode: 'open' }]} rows={ROWS} state="start" paths={PATHS} />, {
      '/api/instruments': [],
    });
    await screen.findByText('lost across W8');
    const all = texts();
    expect(all).toHaveLength(6);
    expect(all[0]).toBe('lost across W8');
    expect(all[1]).toContain('K3.86');
    expect(all[2]).toContain('S2.2');
    expect(all[3]).toBe('the battery gives less');
    expect(all[4]).toContain('BAT.+');
  });

  it('has no reasons where nothing is wrong', () => {
    served(<AnswerKey circuit={1} faults={[]} rows={ROWS} state="start" paths={PATHS} />, { '/api/instruments': [] });
    expect(texts()).toHaveLength(4);
    expect(screen.queryByText('lost across W8')).toBeNull();
  });

  it('groups rows by path and by state, and keeps one instrument', async () => {
    const rows = [
      ...ROWS,
      { ...row('K3.86', 'nothing drawn', 5), state: 'run' },
      { ...row('W4', 'nothing drawn', 5), function: 'clamp_amps' },
    ] as KeyRow[];
    served(<AnswerKey circuit={1} faults={[{ place: 'W8', mode: 'open' }]} rows={rows} state="start" paths={PATHS} />, {
      '/api/instruments': [],
    });
    const heads = () => screen.getAllByRole('rowheader').map((h) => h.textContent);
    await userEvent.selectOptions(screen.getByLabelText('Group the key'), 'by path');
    expect(heads()).toEqual(['Relay coil', 'on no path of this state']);
    expect(texts().filter((t) => t?.includes('nothing drawn'))).toHaveLength(1);
    await userEvent.selectOptions(screen.getByLabelText('Group the key'), 'by state');
    expect(heads()).toEqual(['start', 'run']);
    await userEvent.selectOptions(screen.getByLabelText('Readings by'), 'clamp_amps');
    expect(heads()).toEqual(['start']);
    expect(texts().filter((t) => t?.includes('→') || t?.includes('V'))).toHaveLength(1);
  });
});
