import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, describe, expect, it, vi } from 'vitest';

import { served } from '../../test/served';
import { Weights } from './Weights';

const path = '/api/classes/{id}/weights';

describe('weights of categories', () => {
  afterEach(() => vi.restoreAllMocks());

  it('are no question where there is one category', () => {
    served(<Weights id={4} categories={[{ category: '' }]} />);
    expect(screen.queryByRole('button')).toBeNull();
  });

  it('are set for all together; what has none of its own weighs 1', async () => {
    const sent = served(<Weights id={4} categories={[{ category: '' }, { category: 'Starting', weight: 2 }]} />);
    await userEvent.click(screen.getByRole('button', { name: 'Weights' }));
    const starting = await screen.findByRole('spinbutton', { name: 'Weight of Starting' });
    expect(starting).toHaveValue('2');
    expect(screen.getByRole('spinbutton', { name: 'Weight of no category' })).toHaveValue('1');
    await userEvent.clear(starting);
    await userEvent.type(starting, '3');
    await userEvent.click(screen.getByRole('button', { name: 'Weigh so' }));
    const categories = [
      { category: '', weight: 1 },
      { category: 'Starting', weight: 3 },
    ];
    await vi.waitFor(() => expect(sent.at(-1)).toEqual({ method: 'PUT', path, id: 4, body: { categories } }));
  });

  it('are taken back, so that every assignment counts alike', async () => {
    const sent = served(<Weights id={4} categories={[{ category: 'a', weight: 2 }, { category: 'b' }]} />);
    await userEvent.click(screen.getByRole('button', { name: 'Weights' }));
    await userEvent.click(await screen.findByRole('button', { name: 'Let every assignment count alike' }));
    await vi.waitFor(() => expect(sent.at(-1)?.body).toEqual({ categories: [] }));
  });

  it('say why they were refused', async () => {
    served(
      <Weights id={4} categories={[{ category: 'a' }, { category: 'b' }]} />,
      {},
      { [path]: new Error('no class') },
    );
    await userEvent.click(screen.getByRole('button', { name: 'Weights' }));
    await userEvent.click(await screen.findByRole('button', { name: 'Weigh so' }));
    expect(await screen.findByText(/no class/i)).toBeInTheDocument();
  });
});
