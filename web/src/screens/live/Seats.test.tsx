import { fireEvent, screen, within } from '@testing-library/react';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';

import type { Schemas } from '../../api/client';
import { served, type Sent } from '../../test/served';
import { Seats } from './Seats';

const bench = (student: number, display: string, part: Partial<Schemas['LiveBench']>): Schemas['LiveBench'] => ({
  student,
  display,
  attempt: student,
  no: 1,
  steps: 3,
  handed_in: false,
  excused: false,
  extra_minutes: 0,
  minutes: 4,
  hints: 0,
  slips: [],
  dangers: [],
  ...part,
});
const view: Schemas['LiveView'] = {
  title: 'Tug',
  class: 'First year',
  class_id: 5,
  room: [10, 8],
  paused: false,
  closed: false,
  teaches: true,
  benches: [
    bench(2, 'I. Varga', { seat: { column: 1, row: 0 }, left: 4, of: 14 }),
    bench(3, 'T. Oduya', { seat: { column: 0, row: 0 }, gained_at: 1000 }),
    bench(4, 'S. Lindqvist', { steps: 0 }),
  ],
};
const seat = '/api/classes/{id}/seats/{person}';

describe('the class as it sits', () => {
  let sent: Sent[] = [];
  beforeEach(() => {
    sent = served(<Seats view={view} now={1000 + 7 * 60} />);
  });
  afterEach(() => vi.restoreAllMocks());

  const card = (name: string) => screen.getByRole('button', { name });

  it('has each at their place, and who has none beside the room', () => {
    const standing = screen.getByRole('region', { name: 'Without a place' });
    expect(within(standing).getAllByRole('button')).toHaveLength(1);
    expect(card('I. Varga').closest('[data-column]')).toHaveAttribute('data-column', '1');
    expect(screen.getByText('4 of 14')).toBeInTheDocument();
    // Seven minutes without learning anything.
    expect(card('T. Oduya').closest('.seat-card')).toHaveClass('stuck');
  });

  it('moves a bench with the arrow keys, within the room', async () => {
    fireEvent.keyDown(card('I. Varga'), { key: 'ArrowRight' });
    await vi.waitFor(() => expect(sent.at(-1)).toMatchObject({ path: seat, body: { column: 2, row: 0 } }));
    fireEvent.keyDown(card('I. Varga'), { key: 'ArrowDown' });
    await vi.waitFor(() => expect(sent.at(-1)).toMatchObject({ body: { column: 1, row: 1 } }));
    const count = sent.length;
    fireEvent.keyDown(card('I. Varga'), { key: 'ArrowUp' });
    expect(sent).toHaveLength(count);
    // Who has no place goes to the first that is free.
    fireEvent.keyDown(card('S. Lindqvist'), { key: 'ArrowRight' });
    await vi.waitFor(() => expect(sent.at(-1)).toMatchObject({ body: { column: 2, row: 0 } }));
  });

  it('takes a place away', async () => {
    fireEvent.keyDown(card('T. Oduya'), { key: 'Delete' });
    await vi.waitFor(() => expect(sent.at(-1)).toMatchObject({ method: 'DELETE', path: seat }));
  });

  it('is dragged by mouse or finger to the place that it is let go over', async () => {
    const place = document.querySelector('[data-column="3"][data-row="2"]');
    document.elementFromPoint = () => place;
    const bench = card('I. Varga');
    bench.setPointerCapture = () => undefined;
    fireEvent.pointerDown(bench, { clientX: 10, clientY: 10, pointerId: 1 });
    fireEvent.pointerMove(bench, { clientX: 90, clientY: 120, pointerId: 1 });
    fireEvent.pointerUp(bench, { clientX: 90, clientY: 120, pointerId: 1 });
    await vi.waitFor(() => expect(sent.at(-1)).toMatchObject({ path: seat, body: { column: 3, row: 2 } }));
  });
});
