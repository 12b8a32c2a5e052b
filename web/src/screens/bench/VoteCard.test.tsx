import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, describe, expect, it, vi } from 'vitest';

import type { Schemas } from '../../api/client';
import { served } from '../../test/served';
import { VoteCard } from './VoteCard';

const vote: Schemas['HeardVote'] = { text: 'DC volts at K3.86 to BAT.-, start, on a healthy machine', unit: 'V' };

describe('what the class is asked', () => {
  afterEach(() => vi.restoreAllMocks());

  it('is answered with what one expects', async () => {
    const sent = served(<VoteCard attempt={7} vote={vote} />);
    expect(screen.getByRole('button', { name: 'Say it' })).toBeDisabled();
    await userEvent.type(screen.getByRole('textbox', { name: 'I expect, in V' }), '11.4{Enter}');
    await vi.waitFor(() =>
      expect(sent).toEqual([{ method: 'PUT', path: '/api/attempts/{id}/vote', id: 7, body: { expected: '11.4' } }]),
    );
  });

  it('says why an answer is none, and keeps it', async () => {
    served(<VoteCard attempt={7} vote={vote} />, {}, { '/api/attempts/{id}/vote': new Error('“lots” is no voltage') });
    await userEvent.type(screen.getByRole('textbox'), 'lots{Enter}');
    expect(await screen.findByText('“lots” is no voltage.')).toBeInTheDocument();
    expect(screen.getByRole('textbox')).toHaveValue('lots');
  });

  it('tells the reading and whether one was right, once it is shown', () => {
    served(<VoteCard attempt={7} vote={{ ...vote, own: '11,4', shown: '11.44 V', right: true }} />);
    expect(screen.getByText('11.44 V')).toBeInTheDocument();
    expect(screen.getByText('right')).toBeInTheDocument();
    expect(screen.queryByRole('textbox')).toBeNull();
  });
});
