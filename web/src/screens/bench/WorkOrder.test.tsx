import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it, vi } from 'vitest';

import type { AttemptView } from '../../api/client';
import { attempt, bench } from '../../test/attempt';
import { WorkOrder } from './WorkOrder';

function order(of: AttemptView) {
  const on = { move: vi.fn(), tried: vi.fn(), act: vi.fn(() => Promise.resolve({})) };
  render(<WorkOrder attempt={of} onMove={on.move} onTry={on.tried} act={on.act} />);
  return on;
}

describe('the work order', () => {
  it('has the words of the customer and what the trial showed', () => {
    order(attempt());
    expect(screen.getByRole('heading')).toHaveTextContent('“One lamp stays dark.”');
    expect(screen.getByText('Lamps: lamp dark.')).toBeInTheDocument();
  });

  it('says what is noticed once the machine was tried', () => {
    order(attempt({ bench: bench({ tried: { text: '', trials: [] } }) }));
    expect(screen.getByRole('status')).toHaveTextContent('Nothing happens.');
  });

  it('shows its cautions', async () => {
    order(attempt());
    await userEvent.click(screen.getByRole('button', { name: 'Cautions' }));
    expect(await screen.findByText('Keep clear.')).toBeInTheDocument();
  });

  it('moves a control and tries the complaint', async () => {
    const on = order(attempt());
    await userEvent.click(screen.getByText('off'));
    expect(on.move).toHaveBeenCalledWith('lamps', 'off');
    await userEvent.click(screen.getByRole('button', { name: /Try it/ }));
    expect(on.tried).toHaveBeenCalledTimes(1);
  });

  it('asks the customer, who answers once', async () => {
    const told = [{ step: 3, asked: 'often' as const, about: 'Every time?', text: 'Now and then.' }];
    const questions = [
      { question: 'often' as const, text: 'Every time?' },
      { question: 'heat' as const, text: 'Hot or cold?' },
    ];
    const on = order(attempt({ questions, bench: bench({ told }) }));
    await userEvent.click(screen.getByRole('button', { name: 'Ask (1)' }));
    expect(await screen.findByText('“Now and then.”')).toBeInTheDocument();
    expect(screen.queryByRole('button', { name: 'Ask: Every time?' })).toBeNull();
    await userEvent.click(screen.getByRole('button', { name: 'Ask: Hot or cold?' }));
    expect(on.act).toHaveBeenCalledWith({ do: 'ask_customer', question: 'heat' });
    await userEvent.click(screen.getByRole('button', { name: 'Look it up' }));
    expect(on.act).toHaveBeenLastCalledWith({ do: 'read_history' });
  });

  it('has nobody to ask where nobody brought the machine in', () => {
    order(attempt());
    expect(screen.queryByRole('button', { name: /^Ask/ })).toBeNull();
  });

  it('leaves a machine alone that was handed in', () => {
    order(attempt({ bench: bench({ handed_in: true }) }));
    expect(screen.getByRole('button', { name: /Try it/ })).toBeDisabled();
  });
});
