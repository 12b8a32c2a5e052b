import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { render, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, describe, expect, it, vi } from 'vitest';

import { api } from '../api/client';
import { OwnPassword } from './OwnPassword';

async function fill(old: string, fresh: string, again: string) {
  const user = userEvent.setup();
  const queries = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  render(
    <QueryClientProvider client={queries}>
      <OwnPassword display="I. Varga" />
    </QueryClientProvider>,
  );
  await user.click(screen.getByRole('button', { name: 'I. Varga' }));
  const type = (label: string | RegExp, text: string) =>
    text ? user.type(screen.getByLabelText(label), text) : undefined;
  await type('Present password', old);
  await type(/^New password/, fresh);
  await type('The new password again', again);
  if (old) await user.click(screen.getByRole('button', { name: 'Change' }));
}

const signIns = [
  { id: 'aa', began_at: 1_800_000_000, expires_at: 1_800_040_000, browser: 'X11; Linux', own: true },
  { id: 'bb', began_at: 1_799_000_000, expires_at: 1_800_040_000, browser: 'Tablet', own: false },
];

describe("one's own password", () => {
  beforeEach(() => {
    vi.spyOn(api, 'GET').mockResolvedValue({ data: signIns, response: new Response(null) });
  });

  it('stands beside where one is signed in, which one can end elsewhere', async () => {
    const end = vi.spyOn(api, 'DELETE').mockResolvedValue({ response: new Response(null, { status: 204 }) });
    await fill('', '', '');
    const list = within(await screen.findByRole('region', { name: 'Where you are signed in' }));
    expect(list.getAllByRole('listitem')).toHaveLength(2);
    expect(list.getByText(/^here, since/)).toBeInTheDocument();
    await userEvent.click(list.getByRole('button', { name: 'End it: Tablet' }));
    expect(end).toHaveBeenCalledWith('/api/me/sign-ins/{id}', { params: { path: { id: 'bb' } } });
  });

  it('is sent only when it was typed alike twice', async () => {
    const put = vi.spyOn(api, 'PUT');
    await fill('red-and-black', 'black-and-red', 'black-and-rde');
    expect(screen.getByText(/differ/)).toBeInTheDocument();
    expect(put).not.toHaveBeenCalled();
  });

  it('says what the server refuses, and that it was changed', async () => {
    const refused = {
      error: { detail: 'the present password is wrong' },
      response: new Response(null, { status: 400 }),
    };
    const done = { response: new Response(null, { status: 204 }) };
    const put = vi.spyOn(api, 'PUT').mockResolvedValueOnce(refused).mockResolvedValueOnce(done);
    await fill('guess-guess', 'black-and-red', 'black-and-red');
    expect(await screen.findByText('The present password is wrong.')).toBeInTheDocument();
    await userEvent.click(screen.getByRole('button', { name: 'Change' }));
    expect(await screen.findByText(/^Changed\./)).toBeInTheDocument();
    expect(put).toHaveBeenLastCalledWith('/api/me/password', { body: { old: 'guess-guess', new: 'black-and-red' } });
    expect(screen.getByLabelText('Present password')).toHaveValue('');
  });
});
