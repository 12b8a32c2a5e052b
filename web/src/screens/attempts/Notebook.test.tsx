import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, describe, expect, it, vi } from 'vitest';

import type { Schemas } from '../../api/client';
import { served } from '../../test/served';
import Notebook, { holding } from './Notebook';

const book: Schemas['NotesOfMachine'][] = [
  {
    machine: 'Baggage tug, starting',
    sketch: [],
    benches: [
      {
        attempt: 7,
        title: 'Tug will not crank',
        given_at: 1_700_000_000,
        notes: [
          { step: 3, about: 'Read DC volts K3.86', text: 'fed, so look behind it' },
          { step: 9, about: '', text: 'Clutch first.' },
        ],
      },
    ],
  },
  {
    machine: 'Sweeper, lamps',
    sketch: [],
    benches: [
      {
        attempt: 9,
        title: 'One lamp',
        given_at: 1_700_000_100,
        notes: [{ step: 2, about: '', text: 'G2 is shared.' }],
      },
    ],
  },
];

describe('the notebook', () => {
  afterEach(() => vi.restoreAllMocks());

  it('holds what was written, machine by machine, and leads back to the bench', async () => {
    served(<Notebook />, { '/api/notebook': book });
    expect(await screen.findByRole('region', { name: 'Baggage tug, starting' })).toBeInTheDocument();
    expect(screen.getByRole('link', { name: 'Tug will not crank' })).toHaveAttribute('href', '/attempts/7');
    await userEvent.type(screen.getByRole('textbox', { name: 'Find in the notebook' }), 'shared g2');
    expect(screen.queryByRole('region', { name: 'Baggage tug, starting' })).toBeNull();
    expect(screen.getByText('G2 is shared.')).toBeInTheDocument();
    await userEvent.type(screen.getByRole('textbox', { name: 'Find in the notebook' }), ' nowhere');
    expect(screen.getByText('No note holds these words.')).toBeInTheDocument();
  });

  it('says how a note is written where there is none', async () => {
    served(<Notebook />, { '/api/notebook': [] });
    expect(await screen.findByText(/Nothing is written down yet/)).toBeInTheDocument();
  });

  it('finds by reading, machine and lesson', () => {
    expect(holding(book, 'k3')[0]?.benches[0]?.notes).toHaveLength(1);
    expect(holding(book, 'SWEEPER')).toHaveLength(1);
    expect(holding(book, '')).toHaveLength(2);
  });
});
