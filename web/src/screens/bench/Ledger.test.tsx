import { render, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it, vi } from 'vitest';

import type { LedgerLine } from '../../api/client';
import { InstrumentsContext } from '../../app/instruments';
import { ALL, ledgerLine } from '../../test/attempt';
import { Ledger } from './Ledger';

function ledger(lines: LedgerLine[], more: { chosen?: number; onChoose?: (step: number) => void } = {}) {
  Element.prototype.scrollIntoView = () => {};
  render(
    <InstrumentsContext value={ALL}>
      <Ledger ledger={lines} hasKey={false} chosen={more.chosen} onChoose={more.onChoose ?? (() => {})} />
    </InstrumentsContext>,
  );
  return screen.queryAllByRole('row').filter((row) => row.hasAttribute('aria-selected'));
}

describe('the ledger', () => {
  it('says what to do while it is empty', () => {
    ledger([]);
    expect(screen.getByText(/No reading yet/)).toBeInTheDocument();
  });

  it('has a line for each reading, with what was expected, read and made of it', () => {
    const [line] = ledger([ledgerLine(3, { expected: '12.6', verdict: 'too_low', concluded: ['ruled out W1'] })]);
    const cells = within(line!).getAllByRole('cell');
    expect(cells.map((c) => c.textContent)).toEqual(['3', 'H1.1 · B7.-ruled out W1', '12.6', '12.31 V', 'too low']);
  });

  it('says the state once for the readings that were taken in it', () => {
    const lines = ['off · lamps on', 'off · lamps on', 'off', 'off · lamps on'];
    ledger(lines.map((state, n) => ledgerLine(n + 1, { state })));
    const rows = screen.getAllByRole('row').slice(1);
    const states = rows.filter((row) => !row.hasAttribute('aria-selected')).map((row) => row.textContent);
    expect(states).toEqual(['lamps on', 'at rest', 'lamps on']);
  });

  it('keeps the first verdict beside the one that stands', () => {
    const [line] = ledger([ledgerLine(1, { first_verdict: 'normal', verdict: 'too_low' })]);
    expect(within(line!).getByTitle('your first verdict stays on record')).toHaveTextContent('normal');
  });

  it('says what has no second lead by its instrument, and what hangs by nothing', () => {
    const lines = [
      ledgerLine(1, { function: 'clamp_amps', red: 'W1', black: undefined }),
      ledgerLine(2, { black: undefined }),
    ];
    const rows = ledger(lines);
    expect(rows[0]).toHaveTextContent('W1 · clamp');
    expect(rows[1]).toHaveTextContent('H1.1 · –');
  });

  it('says under which supposition something was expected', () => {
    const [line] = ledger([ledgerLine(1, { supposing: { place: 'W2', mode: 'high_resistance' } })]);
    expect(line).toHaveTextContent('with W2 high resistance');
  });

  it('lets one choose a line', async () => {
    const choose = vi.fn();
    const rows = ledger([ledgerLine(1), ledgerLine(4)], { chosen: 1, onChoose: choose });
    expect(rows[0]).toHaveAttribute('aria-selected', 'true');
    await userEvent.click(rows[1]!);
    expect(choose).toHaveBeenCalledWith(4);
  });
});
