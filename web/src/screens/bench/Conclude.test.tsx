import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it, vi } from 'vitest';

import { attempt, bench, ledgerLine } from '../../test/attempt';
import { Conclude } from './Conclude';

async function choose(field: RegExp, option: RegExp) {
  await userEvent.click(screen.getByRole('combobox', { name: field }));
  await userEvent.click(await screen.findByText(option, { selector: '.ant-select-item-option-content' }));
}

describe('naming the fault', () => {
  it('wants a place and how it failed, and takes the readings that prove it', async () => {
    const act = vi.fn(() => Promise.resolve({}));
    const of = attempt({ bench: bench({ ledger: [ledgerLine(2)] }) });
    const close = vi.fn();
    render(<Conclude attempt={of} what="name" onClose={close} act={act} />);
    const name = screen.getByRole('button', { name: 'Name it' });
    expect(name).toBeDisabled();
    await choose(/Place/, /W2 · wire W2/);
    expect(name).toBeDisabled();
    await choose(/How it failed/, /open · broken through/);
    await choose(/Readings that prove it/, /2: H1.1/);
    await userEvent.click(name);
    expect(act).toHaveBeenCalledWith({ do: 'name_fault', place: 'W2', mode: 'open', because: [2] });
    expect(close).toHaveBeenCalled();
  });
});

describe('a repair', () => {
  it('is one of those that the place can have', async () => {
    const act = vi.fn(() => Promise.resolve({}));
    render(<Conclude attempt={attempt()} what="repair" onClose={() => {}} act={act} />);
    expect(screen.queryByText('Readings that prove it')).toBeNull();
    await choose(/Place/, /W1 · wire W1/);
    await choose(/What to do/, /splice the wire/);
    await userEvent.click(screen.getByRole('button', { name: 'Repair it' }));
    expect(act).toHaveBeenCalledWith({ do: 'repair', place: 'W1', how: 'join' });
  });

  it('can be thought better of', async () => {
    const act = vi.fn(() => Promise.resolve({}));
    const close = vi.fn();
    render(<Conclude attempt={attempt()} what="repair" onClose={close} act={act} />);
    await userEvent.click(screen.getByRole('button', { name: 'Not yet' }));
    expect(close).toHaveBeenCalled();
    expect(act).not.toHaveBeenCalled();
  });
});
