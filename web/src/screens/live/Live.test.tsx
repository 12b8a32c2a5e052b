import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { act, render, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { MemoryRouter, Route, Routes } from 'react-router';
import { beforeEach, describe, expect, it, vi } from 'vitest';

import { api, type Schemas } from '../../api/client';
import Live from './Live';

type Bench = Schemas['LiveBench'];

/** What the server goes on telling, told by hand. */
class Told {
  static readonly OPEN = 1;
  readonly readyState = 1;
  static latest: Told;
  onmessage?: (message: { data: string }) => void;
  onerror?: () => void;
  onopen?: () => void;
  constructor(readonly path: string) {
    Told.latest = this;
  }
  close() {}
}

const NOW = 1_800_000_000;

const bench = (display: string, part: Partial<Bench>): Bench => ({
  student: display.charCodeAt(0),
  display,
  attempt: 1,
  no: 1,
  steps: 4,
  handed_in: false,
  excused: false,
  extra_minutes: 0,
  last: 'Read 12.6 V at BAT.+',
  minutes: 6.4,
  hints: 0,
  began_at: NOW - 1200,
  last_at: NOW,
  gained_at: NOW,
  left: 5,
  of: 14,
  slips: [],
  dangers: [],
  ...part,
});

const view = (paused: boolean) => ({
  title: 'Tug',
  class: 'First year',
  class_id: 3,
  room: [10, 8],
  paused,
  closed: false,
  teaches: true,
  benches: [
    bench('Abend', { handed_in: true }),
    bench('Corvaan', { gained_at: NOW - 60 }),
    bench('Dellmark', { gained_at: NOW - 660, hints: 1, slips: ['a', 'b'] }),
    bench('Estrum', { steps: 0, last: null, gained_at: null, left: null, of: null }),
    bench('Fallow', { dangers: ['Measured amperes across the battery.'] }),
  ],
});

function show() {
  render(
    <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { retry: false } } })}>
      <MemoryRouter initialEntries={['/assignments/7/live']}>
        <Routes>
          <Route path="/assignments/:id/live" element={<Live />} />
        </Routes>
      </MemoryRouter>
    </QueryClientProvider>,
  );
}

const tell = (paused: boolean) => act(() => Told.latest.onmessage?.({ data: JSON.stringify(view(paused)) }));
const order = () => screen.getAllByRole('rowheader').map((h) => h.textContent);

describe('a class live', () => {
  beforeEach(() => {
    vi.stubGlobal('EventSource', Told);
    vi.spyOn(Date, 'now').mockReturnValue(NOW * 1000);
    vi.spyOn(api, 'GET').mockResolvedValue({ data: null, response: new Response(null) });
  });

  it('has who needs help first, and by name when asked', async () => {
    show();
    expect(Told.latest.path).toBe('/api/assignments/7/watch');
    tell(false);
    // What is dangerous, who learnt nothing for longest, who has not begun, who is done.
    expect(order()).toEqual(['Fallow', 'Dellmark', 'Corvaan', 'Estrum', 'Abend']);
    const row = screen.getByRole('rowheader', { name: 'Dellmark' }).closest('tr') as HTMLElement;
    const cells = within(row)
      .getAllByRole('cell')
      .map((c) => c.textContent?.trim());
    expect(cells.slice(0, 6)).toEqual(['Read 12.6 V at BAT.+', '4', '6 min', '5 of 14', '11 min', '2 slips 1 hint']);
    await userEvent.click(screen.getByRole('combobox', { name: 'Order' }));
    await userEvent.click(await screen.findByTitle('by name'));
    expect(order()).toEqual(['Abend', 'Corvaan', 'Dellmark', 'Estrum', 'Fallow']);
  });

  it('says when the connection is lost, and that it is back', () => {
    show();
    tell(false);
    act(() => Told.latest.onerror?.());
    expect(screen.getByText(/connection is lost/)).toBeInTheDocument();
    act(() => Told.latest.onopen?.());
    expect(screen.getByText('as it happens')).toBeInTheDocument();
    act(() => void window.dispatchEvent(new Event('offline')));
    expect(screen.getByText(/connection is lost/)).toBeInTheDocument();
    act(() => void window.dispatchEvent(new Event('online')));
    expect(screen.getByText('as it happens')).toBeInTheDocument();
  });

  it('lets all benches stand still, and go on', async () => {
    const done = { response: new Response(null, { status: 204 }) };
    const put = vi.spyOn(api, 'PUT').mockResolvedValue(done);
    const end = vi.spyOn(api, 'DELETE').mockResolvedValue(done);
    show();
    tell(false);
    const path = { params: { path: { id: 7 } } };
    await userEvent.click(screen.getByRole('button', { name: /^Eyes up/ }));
    expect(put).toHaveBeenCalledWith('/api/assignments/{id}/pause', path);
    tell(true);
    await userEvent.click(screen.getByRole('button', { name: 'Let them go on' }));
    expect(end).toHaveBeenCalledWith('/api/assignments/{id}/pause', path);
  });
});
