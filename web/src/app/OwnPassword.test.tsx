import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it, vi } from 'vitest';

import { api } from '../api/client';
import { OwnPassword } from './OwnPassword';

async function fill(old: string, fresh: string, again: string) {
  const user = userEvent.setup();
  render(<OwnPassword display="I. Varga" />);
  await user.click(screen.getByRole('button', { name: 'I. Varga' }));
  await user.type(screen.getByLabelText('Present password'), old);
  await user.type(screen.getByLabelText(/^New password/), fresh);
  await user.type(screen.getByLabelText('The new password again'), again);
  await user.click(screen.getByRole('button', { name: 'Change' }));
}

describe("one's own password", () => {
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
