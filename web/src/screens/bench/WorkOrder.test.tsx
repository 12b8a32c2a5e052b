import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it, vi } from 'vitest';

import type { AttemptView } from '../../api/client';
import { attempt, bench } from '../../test/attempt';
import { WorkOrder } from './WorkOrder';

function order(of: AttemptView) {
  const on = { move: vi.fn(), tried: vi.fn() };
  render(<WorkOrder attempt={of} onMove={on.move} onTry={on.tried} />);
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

  it('leaves a machine alone that was handed in', () => {
    order(attempt({ bench: bench({ handed_in: true }) }));
    expect(screen.getByRole('button', { name: /Try it/ })).toBeDisabled();
  });
});
