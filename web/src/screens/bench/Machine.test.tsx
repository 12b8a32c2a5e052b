import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it, vi } from 'vitest';

import type { AttemptView } from '../../api/client';
import { attempt, bench } from '../../test/attempt';
import { Machine, waysAt } from './Machine';

function machine(of: Partial<AttemptView>) {
  const act = vi.fn(() => Promise.resolve(undefined));
  render(<Machine attempt={attempt(of)} leads={{ red: '', black: '' }} act={act} />);
  return act;
}

describe('what is done at the machine', () => {
  it('labels a plug that another looks like, once', async () => {
    const act = machine({ look_alikes: ['X1', 'X2'], bench: bench({ labelled: ['X2'] }) });
    await userEvent.type(screen.getByRole('combobox', { name: 'Do something at the machine' }), 'label');
    expect(screen.queryByTitle('Label both halves of X2')).toBeNull();
    await userEvent.click(await screen.findByTitle('Label both halves of X1'));
    expect(act).toHaveBeenCalledWith({ do: 'label', connector: 'X1' });
  });

  it('puts back what is apart, and says which bears a label', async () => {
    const act = machine({ look_alikes: ['X1', 'X2'], bench: bench({ apart: ['X1', 'X2'], labelled: ['X2'] }) });
    expect(screen.getByRole('button', { name: 'Put X2 back, by its label' })).toBeInTheDocument();
    await userEvent.click(screen.getByRole('button', { name: 'Put X1 back' }));
    expect(act).toHaveBeenCalledWith({ do: 'put_back', what: 'X1' });
  });

  it('tries a known-good part of what there is another of', () => {
    const offered = waysAt(attempt({ known_good: ['H1'] }), 'H1').map((w) => w.action);
    expect(offered).toContainEqual({ do: 'fit_known_good', part: 'H1' });
    expect(waysAt(attempt(), 'H1').map((w) => w.action.do)).not.toContain('fit_known_good');
  });
});
