import { screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { createRef } from 'react';
import { beforeEach, describe, expect, it, vi } from 'vitest';

import type { AttemptView } from '../../api/client';
import { attempt as onBench, bench, ledgerLine } from '../../test/attempt';
import { served } from '../../test/served';
import { TestSheet, type TestSheetHandle } from './TestSheet';
import { figure, Unmarked } from './Unmarked';

type Sheet = NonNullable<AttemptView['sheet']>;

const survey: Sheet = {
  about: 'Measure what each piece loses.',
  function: 'dc_volts',
  state: 'off · lamps on',
  choices: [
    { word: 'keep', text: 'keep', spec: '' },
    { word: 'renew', text: 'renew', spec: '' },
  ],
  rows: [
    { no: 1, title: 'W1', about: 'cable RD', points: ['B7.+', 'C1.1m'], expects: 'up to 0.20 V' },
    { no: 2, title: 'W2', about: 'wire RD', points: ['C1.1f', 'H1.1'], expects: 'up to 0.20 V' },
  ],
  leads: [],
};

const plug: Sheet = {
  ...survey,
  function: 'ohms',
  state: null,
  rows: ['a', 'b'].map((title, n) => ({ no: n + 1, title, about: '', points: null, expects: '' })),
  choices: [
    { word: '1', text: 'Charge winding', spec: '700 Ω from one to the other' },
    { word: '2', text: 'Trigger', spec: '300 Ω to metal:engine' },
  ],
  leads: ['a', 'b', 'metal:engine'],
};

describe('the test sheet', () => {
  beforeEach(() => document.body.replaceChildren());
  const nothing = { onLeads: vi.fn(), act: vi.fn(), leads: { red: '', black: '' } };
  const begin = (more: Partial<Parameters<typeof TestSheet>[0]> = {}, view = bench()) => {
    const handle = createRef<TestSheetHandle>();
    served(<TestSheet {...nothing} ref={handle} attempt={onBench({ bench: view })} sheet={survey} {...more} />, {});
    return handle;
  };
  const row = (no: number) => within(document.querySelector<HTMLElement>(`[data-row="${no}"]`)!);

  it('shows what was last read along a row in its state, whichever way round', () => {
    const shown = (text: string) => ({ ...ledgerLine(1).shown, text });
    const ledger = [
      ledgerLine(1, { red: 'B7.+', black: 'C1.1m', shown: shown('0.11') }),
      ledgerLine(2, { red: 'C1.1m', black: 'B7.+', shown: shown('-0.12') }),
      ledgerLine(3, { red: 'B7.+', black: 'C1.1m', shown: shown('9.99'), state: 'off · lamps off' }),
    ];
    begin({}, bench({ ledger }));
    expect(row(1).getByText('-0.12 V')).toBeInTheDocument();
    expect(row(2).getByText('–', { selector: 'td' })).toBeInTheDocument();
  });

  it('puts the leads on a row, and enters what it is; taking it back enters nothing', async () => {
    const [onLeads, act] = [vi.fn(), vi.fn()];
    begin({ onLeads, act }, bench({ entered: [{ step: 4, row: 2, is: 'renew' }] }));
    await userEvent.click(row(1).getByRole('button'));
    expect(onLeads).toHaveBeenCalledWith(['B7.+', 'C1.1m']);
    await userEvent.selectOptions(screen.getByLabelText('W1 is'), 'keep');
    expect(act).toHaveBeenLastCalledWith({ do: 'enter', row: 1, is: 'keep' });
    expect(screen.getByLabelText('W2 is')).toHaveValue('renew');
    await userEvent.selectOptions(screen.getByLabelText('W2 is'), '');
    expect(act).toHaveBeenLastCalledWith({ do: 'enter', row: 2, is: null });
    expect(screen.getByText('1 of 2 entered')).toBeInTheDocument();
  });

  it('says when what is read does not count, and takes the focus to the first open row', () => {
    const handle = begin({}, bench({ state: 'off · lamps off', entered: [{ step: 4, row: 1, is: 'keep' }] }));
    expect(screen.getByText(/first bring the machine to “lamps on”/)).toBeInTheDocument();
    handle.current?.focus();
    expect(screen.getByLabelText('W2 is')).toHaveFocus();
  });

  it('is closed once it was handed in', () => {
    begin({}, bench({ handed_in: true }));
    expect(screen.getByLabelText('W1 is')).toBeDisabled();
  });
});

describe('a plug without marks', () => {
  beforeEach(() => document.body.replaceChildren());

  it('has what was read between each two, the other way round in brackets', () => {
    const lines = [ledgerLine(1, { red: 'a', black: 'b' })];
    expect(figure(lines, 'a', 'b')).toBe('12.31 V');
    expect(figure(lines, 'b', 'a')).toBe('(12.31 V)');
    expect(figure(lines, 'a', 'metal:engine')).toBe('');
  });

  it('puts a lead on a letter, both by a cell, and says what was said to be what', async () => {
    const [onPoint, onLeads] = [vi.fn(), vi.fn()];
    const view = bench({ entered: [{ step: 1, row: 2, is: '2' }] });
    served(
      <Unmarked attempt={onBench({ bench: view })} sheet={plug} marks={{}} onPoint={onPoint} onLeads={onLeads} />,
      {
        '/api/instruments': [],
      },
    );
    await userEvent.click(screen.getByRole('button', { name: 'Lead b' }));
    expect(onPoint).toHaveBeenCalledWith('b');
    await userEvent.click(screen.getByRole('button', { name: 'Red on a, black on metal:engine' }));
    expect(onLeads).toHaveBeenCalledWith(['a', 'metal:engine']);
    expect(screen.getByText('Trigger').closest('tr')).toHaveTextContent('Trigger300 Ω to metal:engineb');
  });
});
