import { act, render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';

import { about, isWaiting, sentence, WaitingFor, type Waiting } from './Waiting';

const waiting = (more: Partial<Waiting> = {}): Waiting => ({
  state: 'working',
  ahead: 0,
  about: 'trying what could be wrong',
  share: 0.25,
  left_s: 12.4,
  detail: null,
  ...more,
});

describe('a sentence', () => {
  it.each([
    [waiting(), 'Trying what could be wrong, about 12 s left …'],
    [waiting({ left_s: null }), 'Trying what could be wrong …'],
    [waiting({ state: 'queued', ahead: 2 }), '2 things are before it.'],
    [waiting({ state: 'queued', ahead: 1 }), '1 thing is before it.'],
    [waiting({ state: 'queued' }), 'It is next.'],
    [waiting({ state: 'failed', detail: 'no solution' }), 'No solution'],
  ])('says how far %o is', (now, text) => expect(sentence(now)).toBe(text));

  it('counts in minutes where seconds are too many', () => {
    expect([0.2, 60, 200].map(about)).toEqual(['about 1 s', 'about 60 s', 'about 3 min']);
  });

  it('is told from what was waited for', () => {
    expect(isWaiting(waiting())).toBe(true);
    expect([undefined, null, {}, { total: 3 }].map(isWaiting)).toEqual([false, false, false, false]);
  });
});

describe('who waits', () => {
  let source: { onmessage?: (m: { data: string }) => void; close: () => void };
  beforeEach(() => {
    source = { close: vi.fn() };
    vi.stubGlobal(
      'EventSource',
      vi.fn(function EventSource() {
        return source;
      }),
    );
  });
  afterEach(() => vi.unstubAllGlobals());
  const tell = (now: Waiting) => act(() => source.onmessage?.({ data: JSON.stringify(now) }));

  it('is told as it goes on, and once when it is there', () => {
    const done = vi.fn();
    render(<WaitingFor what="Marking." events="/e" first={waiting({ state: 'queued' })} onDone={done} />);
    expect(screen.getByRole('status')).toHaveTextContent('It is next.');
    tell(waiting({ share: 0.5 }));
    expect(screen.getByRole('status')).toHaveTextContent('50%');
    expect(done).not.toHaveBeenCalled();
    tell(waiting({ state: 'done', share: 1 }));
    expect(done).toHaveBeenCalledTimes(1);
    expect(source.close).toHaveBeenCalled();
  });

  it('may stop it where there is a button for that, until it has ended', async () => {
    const stop = vi.fn();
    render(<WaitingFor what="Marking." events="/e" first={waiting()} onDone={() => {}} onStop={stop} />);
    await userEvent.click(screen.getByRole('button', { name: 'Stop' }));
    expect(stop).toHaveBeenCalledTimes(1);
    tell(waiting({ state: 'failed', detail: 'this was stopped' }));
    expect(screen.queryByRole('button')).toBeNull();
  });

  it('may begin it anew where it has failed', async () => {
    const again = vi.fn();
    render(<WaitingFor what="Marking." events="/e" first={waiting()} onDone={() => {}} onAgain={again} />);
    expect(screen.queryByRole('button')).toBeNull();
    tell(waiting({ state: 'failed', detail: 'this was stopped' }));
    await userEvent.click(screen.getByRole('button', { name: 'Begin anew' }));
    expect(again).toHaveBeenCalledTimes(1);
  });

  it('is told why it failed', () => {
    render(<WaitingFor what="Marking." events="/e" first={waiting()} onDone={() => {}} />);
    tell(waiting({ state: 'failed', detail: 'the circuit has no solution' }));
    expect(screen.getByRole('alert')).toHaveTextContent('The circuit has no solution');
    expect(screen.queryByRole('progressbar')).toBeNull();
  });
});
