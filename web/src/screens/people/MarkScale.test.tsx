import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';

import { api } from '../../api/client';
import { MarkScale } from './MarkScale';

describe('the scale of marks', () => {
  const sent: unknown[] = [];
  beforeEach(() => {
    sent.length = 0;
    vi.spyOn(api, 'GET').mockImplementation((() =>
      Promise.resolve({ data: { rounding: 'tenth', grades: [] }, response: new Response() })) as never);
    vi.spyOn(api, 'PUT').mockImplementation(((_: string, init: { body: unknown }) => {
      sent.push(init.body);
      return Promise.resolve({ response: new Response(null, { status: 204 }) });
    }) as never);
    render(
      <QueryClientProvider client={new QueryClient()}>
        <MarkScale />
      </QueryClientProvider>,
    );
  });
  afterEach(() => vi.restoreAllMocks());

  it('begins from a usual one, and is the school’s to change', async () => {
    const open = screen.getByRole('button', { name: 'Scale of marks' });
    await vi.waitFor(() => expect(open).toBeEnabled());
    await userEvent.click(open);
    await userEvent.click(await screen.findByRole('button', { name: 'Pass or fail' }));
    const name = screen.getByRole('textbox', { name: 'Grade 1' });
    await userEvent.clear(name);
    await userEvent.type(name, 'ready');
    const from = screen.getByRole('spinbutton', { name: 'Marks from which on grade 1 is given' });
    await userEvent.clear(from);
    await userEvent.type(from, '75');
    await userEvent.click(screen.getByRole('radio', { name: 'halves' }));
    await userEvent.click(screen.getByRole('button', { name: 'Save' }));
    await vi.waitFor(() =>
      expect(sent).toEqual([
        {
          rounding: 'half',
          grades: [
            { name: 'ready', from: 75 },
            { name: 'not yet', from: 0 },
          ],
        },
      ]),
    );
  });

  it('loses a grade when that is removed', async () => {
    const open = screen.getByRole('button', { name: 'Scale of marks' });
    await vi.waitFor(() => expect(open).toBeEnabled());
    await userEvent.click(open);
    await userEvent.click(await screen.findByRole('button', { name: 'A to F' }));
    await userEvent.click(screen.getByRole('button', { name: 'Remove grade 4' }));
    const names = screen.getAllByRole('textbox').map((field) => (field as HTMLInputElement).value);
    expect(names).toEqual(['A', 'B', 'C', 'F']);
    expect(sent).toEqual([]);
  });
});
