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

  it('is made by choice where the lesson asks for that', async () => {
    const act = vi.fn(() => Promise.resolve({}));
    const craft = [
      { word: 'method', asks: 'Joined by', options: [{ word: 'solder', text: 'soldering', caution: 'It is hot.' }] },
      { word: 'sleeve', asks: 'Over it', options: [{ word: 'lined', text: 'a sleeve with adhesive' }] },
    ];
    const of = attempt({ craft: 'it gets wet' });
    const places = of.places.map((p) => ({ ...p, repairs: p.repairs.map((r) => ({ ...r, craft })) }));
    render(<Conclude attempt={{ ...of, places }} what="repair" onClose={() => {}} act={act} />);
    await choose(/Place/, /W1 · wire W1/);
    await choose(/What to do/, /splice the wire/);
    expect(screen.getByText('Where it lies, it gets wet.')).toBeInTheDocument();
    const repair = screen.getByRole('button', { name: 'Repair it' });
    await userEvent.selectOptions(screen.getByLabelText(/Joined by/), 'soldering');
    expect(repair).toBeDisabled();
    expect(screen.getByRole('note')).toHaveTextContent('It is hot.');
    await userEvent.selectOptions(screen.getByLabelText('Over it'), 'a sleeve with adhesive');
    await userEvent.click(repair);
    const chosen = { method: 'solder', sleeve: 'lined' };
    expect(act).toHaveBeenCalledWith({ do: 'repair', place: 'W1', how: 'join', craft: chosen });
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
