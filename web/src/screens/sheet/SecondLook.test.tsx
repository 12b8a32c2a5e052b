import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { ReactNode } from 'react';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';

import { api, type MarkLine } from '../../api/client';
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
const within = (what: ReactNode) =>
  render(<QueryClientProvider client={new QueryClient()}>{what}</QueryClientProvider>);

describe('a second look', () => {
  const sent: [string, unknown][] = [];
  beforeEach(() => {
    sent.length = 0;
    for (const method of ['POST', 'PUT'] as const) {
      vi.spyOn(api, method).mockImplementation(((_: string, init: { body: unknown }) => {
        sent.push([method, init.body]);
        return Promise.resolve({ response: new Response(null, { status: 204 }) });
      }) as never);
    }
  });
  afterEach(() => vi.restoreAllMocks());

  it('is asked for with a reason, and not without', async () => {
    within(<AskLook id={7} line={line} />);
    await userEvent.click(screen.getByRole('button', { name: 'Ask for a second look at Approach' }));
    const ask = screen.getByRole('button', { name: 'Ask' });
    expect(ask).toBeDisabled();
    await userEvent.type(screen.getByRole('textbox'), 'I tried it.');
    await userEvent.click(ask);
    await vi.waitFor(() => expect(sent).toEqual([['POST', { criterion: 'approach', asked: 'I tried it.' }]]));
  });

  it('is answered by keeping the marks or by changing them', async () => {
    within(<TheLook id={7} line={line} look={look} answers />);
    await userEvent.click(screen.getByRole('button', { name: 'Answer the second look at Approach' }));
    await userEvent.type(screen.getByRole('textbox'), 'So you did.');
    expect(screen.getByRole('button', { name: 'Keep the marks' })).toBeEnabled();
    await userEvent.type(screen.getByRole('spinbutton'), '3');
    await userEvent.click(screen.getByRole('button', { name: 'Change the marks' }));
    await vi.waitFor(() => expect(sent).toEqual([['PUT', { text: 'So you did.', marks: 3 }]]));
  });

  it('shows a student what came of it, and no way to answer', () => {
    const answer = { text: 'No more had it.', changed: false, at: 1, by: 'R. Dalca' };
    const { rerender } = within(<TheLook id={7} line={line} look={look} answers={false} />);
    expect(screen.getByText(/Not answered yet/)).toBeInTheDocument();
    expect(screen.queryByRole('button')).toBeNull();
    rerender(
      <QueryClientProvider client={new QueryClient()}>
        <TheLook id={7} line={line} look={{ ...look, answer }} answers />
      </QueryClientProvider>,
    );
    expect(screen.getByText('R. Dalca, kept: No more had it.')).toBeInTheDocument();
    expect(screen.queryByRole('button')).toBeNull();
  });
});
