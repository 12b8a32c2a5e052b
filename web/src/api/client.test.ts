import { describe, expect, it, vi } from 'vitest';

import { patiently } from './client';

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
});
