import { describe, expect, it, vi } from 'vitest';

import { ask, patiently, sentenceOf } from './client';

const busy = () => new Response('{}', { status: 503, headers: { 'Retry-After': '2' } });
const request = () => new Request('http://localhost/api/me', { method: 'POST', body: 'x' });

describe('one who was turned away', () => {
  it('asks again when it was told to, with the same body', async () => {
    const bodies: string[] = [];
    const answers = [busy(), busy(), new Response('{}', { status: 200 })];
    const send = async (r: Request) => {
      bodies.push(await r.text());
      return answers.shift() ?? busy();
    };
    const wait = vi.fn(() => Promise.resolve());
    const answer = await patiently(request(), send, wait);
    expect(answer.status).toBe(200);
    expect(bodies).toEqual(['x', 'x', 'x']);
    expect(wait).toHaveBeenCalledTimes(2);
  });

  it('gives up after a while, and at once where there is nothing to wait for', async () => {
    const send = vi.fn(() => Promise.resolve(busy()));
    const wait = () => Promise.resolve();
    expect((await patiently(request(), send, wait)).status).toBe(503);
    expect(send).toHaveBeenCalledTimes(6);
    const down = vi.fn(() => Promise.resolve(new Response('{}', { status: 500 })));
    expect((await patiently(request(), down, wait)).status).toBe(500);
    expect(down).toHaveBeenCalledTimes(1);
  });

  it('waits where it asked too often, but is told of what takes long', async () => {
    const often = (seconds: string) => new Response('{}', { status: 429, headers: { 'Retry-After': seconds } });
    const answers = [often('1'), new Response('{}', { status: 200 })];
    const send = () => Promise.resolve(answers.shift() ?? often('1'));
    const wait = () => Promise.resolve();
    expect((await patiently(request(), send, wait)).status).toBe(200);
    const locked = vi.fn(() => Promise.resolve(often('30')));
    expect((await patiently(request(), locked, wait)).status).toBe(429);
    expect(locked).toHaveBeenCalledTimes(1);
  });
});

describe('what went wrong', () => {
  it('is told with the number under which the log has it', async () => {
    const failed = new Response(null, { status: 500, headers: { 'x-request-id': '1a2b3c4d' } });
    const answer = Promise.resolve({ error: { detail: 'the server could not do this' }, response: failed });
    await expect(ask(answer)).rejects.toThrow('the server could not do this (request 1a2b3c4d)');
    const refused = new Response(null, { status: 400, headers: { 'x-request-id': '1a2b3c4d' } });
    const other = Promise.resolve({ error: { detail: 'type volts' }, response: refused });
    await expect(ask(other)).rejects.toThrow(/^type volts$/);
  });
});

describe('a sentence', () => {
  it('stands by itself, and ends once', () => {
    const said = ['the name varga is taken', 'Try again.', 'it failed (request 1a2b)'].map((t) =>
      sentenceOf(new Error(t)),
    );
    expect(said).toEqual(['The name varga is taken.', 'Try again.', 'It failed (request 1a2b)']);
  });
});
