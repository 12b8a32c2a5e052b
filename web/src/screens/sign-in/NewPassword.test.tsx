import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { MemoryRouter } from 'react-router';
import { afterEach, describe, expect, it, vi } from 'vitest';

import { api } from '../../api/client';
import { NewPassword } from './NewPassword';

describe('a new password by a link', () => {
  afterEach(() => vi.restoreAllMocks());
  const answer = vi.fn();
  const opened = () => {
    vi.spyOn(api, 'POST').mockImplementation(answer as never);
    render(
      <QueryClientProvider client={new QueryClient()}>
        <MemoryRouter initialEntries={['/new-password#token']}>
          <NewPassword />
        </MemoryRouter>
      </QueryClientProvider>,
    );
    return [screen.getByLabelText(/New password/), screen.getByLabelText('The same again')] as const;
  };

  it('is typed twice alike, and sent with what stands behind the #', async () => {
    answer.mockResolvedValue({ data: { name: 'varga' }, response: new Response() });
    const [first, again] = opened();
    const set = screen.getByRole('button', { name: 'Set it' });
    await userEvent.type(first, 'blue-and-green');
    await userEvent.type(again, 'blue-and-gree');
    expect(screen.getByRole('alert')).toHaveTextContent('The two differ.');
    expect(set).toBeDisabled();
    await userEvent.type(again, 'n');
    await userEvent.click(set);
    expect(await screen.findByText('varga')).toBeInTheDocument();
    expect(answer).toHaveBeenCalledWith('/api/new-password', { body: { token: 'token', password: 'blue-and-green' } });
  });

  it('says when the link holds no more, and keeps what was typed', async () => {
    const error = { detail: 'this link holds no more' };
    answer.mockResolvedValue({ error, response: new Response(null, { status: 400 }) });
    const [first, again] = opened();
    await userEvent.type(first, 'blue-and-green');
    await userEvent.type(again, 'blue-and-green');
    await userEvent.click(screen.getByRole('button', { name: 'Set it' }));
    expect(await screen.findByText('This link holds no more.')).toBeInTheDocument();
    expect(first).toHaveValue('blue-and-green');
  });
});
