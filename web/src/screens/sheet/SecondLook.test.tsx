import { cleanup, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, describe, expect, it, vi } from 'vitest';

import type { MarkLine } from '../../api/client';
import { served } from '../../test/served';
import { AskLook, TheLook, type Look } from './SecondLook';

const line: MarkLine = {
  criterion: 'approach',
  title: 'Approach',
  marks: 2,
  out_of: 5,
  details: [],
  given: null,
};
const look: Look = { criterion: 'approach', asked: 'I tried it.', asked_at: 0, answer: null };

describe('a second look', () => {
  afterEach(() => vi.restoreAllMocks());

  it('is asked for with a reason, and not without', async () => {
    const sent = served(<AskLook id={7} line={line} />);
    await userEvent.click(screen.getByRole('button', { name: 'Ask for a second look at Approach' }));
    const ask = screen.getByRole('button', { name: 'Ask' });
    expect(ask).toBeDisabled();
    await userEvent.type(screen.getByRole('textbox'), 'I tried it.');
    await userEvent.click(ask);
    await vi.waitFor(() =>
      expect(sent[0]).toMatchObject({ method: 'POST', id: 7, body: { criterion: 'approach', asked: 'I tried it.' } }),
    );
  });

  it('is answered by keeping the marks or by changing them', async () => {
    const sent = served(<TheLook id={7} line={line} look={look} answers />);
    await userEvent.click(screen.getByRole('button', { name: 'Answer the second look at Approach' }));
    await userEvent.type(screen.getByRole('textbox'), 'So you did.');
    expect(screen.getByRole('button', { name: 'Keep the marks' })).toBeEnabled();
    await userEvent.type(screen.getByRole('spinbutton'), '3');
    await userEvent.click(screen.getByRole('button', { name: 'Change the marks' }));
    await vi.waitFor(() => expect(sent[0]).toMatchObject({ method: 'PUT', body: { text: 'So you did.', marks: 3 } }));
  });

  it('shows a student what came of it, and no way to answer', () => {
    const answer = { text: 'No more had it.', changed: false, at: 1, by: 'R. Dalca' };
    served(<TheLook id={7} line={line} look={look} answers={false} />);
    expect(screen.getByText(/Not answered yet/)).toBeInTheDocument();
    expect(screen.queryByRole('button')).toBeNull();
    cleanup();
    served(<TheLook id={7} line={line} look={{ ...look, answer }} answers />);
    expect(screen.getByText('R. Dalca, kept: No more had it.')).toBeInTheDocument();
    expect(screen.queryByRole('button')).toBeNull();
  });
});
