import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { act, render, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';

import { api, type Schemas } from '../../api/client';
import { Beside, MarkAgain } from './MarkAgain';

type Kept = Schemas['KeptSheet'];

function sheet(id: number, marks: number, stands: boolean): Kept {
  const line = (criterion: string, title: string, of: number) => ({
    criterion,
    title,
    marks: of,
    out_of: 20,
    details: [],
    given: null,
  });
  return {
    id,
    engine: `engine ${id}`,
    made_at: 86_400 * id,
    stands,
    sheet: {
      total: marks + 5,
      computed: marks + 5,
      lines: [line('clearing', 'Clearing', marks), line('repair', 'Repair', 5)],
      slips: [],
      safety: [],
      safety_takes: 0,
      fault: 'W8 open',
      ambiguity: [],
    },
  };
}

describe('two sheets side by side', () => {
  it('show each line old and new, and the total', () => {
    render(<Beside old={sheet(1, 12, true)} made={sheet(2, 14.25, false)} />);
    const rows = screen.getAllByRole('row').slice(1);
    const texts = rows.map((row) =>
      within(row)
        .getAllByRole('cell')
        .map((c) => c.textContent),
    );
    expect(texts).toEqual([
      ['Clearing', '12.0', '14.3'],
      ['Repair', '5.0', '5.0'],
      ['Total', '17.0', '19.3'],
    ]);
    expect(screen.getByRole('columnheader', { name: 'Standing, of 1970-01-02' })).toBeInTheDocument();
    expect(screen.getByText(/Lines in red have changed/)).toBeInTheDocument();
  });

  it('say so when nothing has changed', () => {
    render(<Beside old={sheet(1, 12, true)} made={sheet(2, 12, false)} />);
    expect(screen.getByText(/No line has changed/)).toBeInTheDocument();
  });
});

describe('marking again', () => {
  let tell: (state: string) => void = () => {};
  const asked: string[] = [];
  const kept = [sheet(1, 12, true)];
  beforeEach(() => {
    asked.length = 0;
    kept.length = 1;
    kept[0] = sheet(1, 12, true);
    vi.stubGlobal(
      'EventSource',
      vi.fn(function EventSource() {
        const source: { onmessage?: (m: { data: string }) => void; close: () => void } = { close: () => {} };
        tell = (state) => act(() => source.onmessage?.({ data: JSON.stringify({ ...WAITING, state }) }));
        return source;
      }),
    );
    const answers = (method: 'GET' | 'POST' | 'PUT', data: () => unknown) =>
      vi.spyOn(api, method).mockImplementation(((path: string) => {
        asked.push(`${method} ${path}`);
        return Promise.resolve({ data: data(), response: new Response() });
      }) as never);
    answers('GET', () => [...kept]);
    answers('POST', () => WAITING);
    answers('PUT', () => undefined);
  });
  afterEach(() => {
    vi.unstubAllGlobals();
    vi.restoreAllMocks();
  });
  const WAITING = { state: 'working', ahead: 0, about: 'trying', share: 0.1, left_s: null, detail: null };

  it('waits for the new sheet each time, and replaces nothing until it is told to', async () => {
    render(
      <QueryClientProvider client={new QueryClient()}>
        <MarkAgain id={7} />
      </QueryClientProvider>,
    );
    const begin = screen.getByRole('button', { name: 'Mark again' });
    await userEvent.click(begin);
    expect(await screen.findByText(/Trying/)).toBeInTheDocument();
    const stand = screen.getByRole('button', { name: 'Let the new marks stand' });
    expect(stand).toBeDisabled();
    kept.push(sheet(2, 14, false));
    tell('done');
    expect(await screen.findByText('Clearing')).toBeInTheDocument();
    await userEvent.click(screen.getByRole('button', { name: 'Leave it as it is' }));
    expect(asked.some((a) => a.startsWith('PUT'))).toBe(false);
    // A second time it waits again: what it showed was of the first.
    await userEvent.click(begin);
    expect(await screen.findByText(/Trying/)).toBeInTheDocument();
    tell('done');
    expect(await screen.findByText('Clearing')).toBeInTheDocument();
    await userEvent.click(screen.getByRole('button', { name: 'Let the new marks stand' }));
    await vi.waitFor(() => expect(asked).toContain('PUT /api/attempts/{id}/sheets/{sheet}/stands'));
  });
});
