import { screen } from '@testing-library/react';
import { afterEach, describe, expect, it, vi } from 'vitest';

import type { Schemas } from '../../api/client';
import { served } from '../../test/served';
import { Came } from './Came';

describe('what came of one’s work', () => {
  afterEach(() => vi.restoreAllMocks());
  const begin = (came: Schemas['Came']) => served(<Came />, { '/api/start/marked': came });

  it('is what was marked, what to practise, and on what', async () => {
    begin({
      marked: [{ attempt: 7, title: 'Tug', says: '63.1' }],
      practise: 'After each reading, mark what it clears.',
      lesson: { attempt: 9, title: 'Sweeper' },
    });
    expect(await screen.findByText('63.1')).toBeInTheDocument();
    expect(screen.getByRole('link', { name: 'Tug' })).toHaveAttribute('href', '/attempts/7/sheet');
    expect(screen.getByText(/mark what it clears/)).toBeInTheDocument();
    expect(screen.getByRole('link', { name: 'Practise on “Sweeper”' })).toHaveAttribute('href', '/attempts/9');
  });

  it('is a lesson without marks where nothing was marked yet', async () => {
    begin({ marked: [], practise: '', lesson: { attempt: 9, title: 'Sweeper' } });
    expect(await screen.findByText(/To practise, without marks/)).toBeInTheDocument();
  });

  it('is nothing where there is nothing', async () => {
    begin({ marked: [], practise: '' });
    await new Promise((done) => setTimeout(done, 20));
    expect(screen.queryByRole('region')).toBeNull();
  });
});
