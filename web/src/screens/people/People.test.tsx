import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { render, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { MemoryRouter } from 'react-router';
import { beforeEach, describe, expect, it, vi } from 'vitest';

import { api } from '../../api/client';
import People from './People';

const response = new Response(null);
const people = [
  { id: 1, name: 'dalca', display: 'R. Dalca', roles: ['instructor'], left: false },
  { id: 2, name: 'varga', display: 'I. Varga', roles: ['student'], left: false },
  { id: 3, name: 'oduya', display: 'T. Oduya', roles: ['student'], left: true },
];

const classes = [{ id: 1, name: 'First year', over: false, own_role: 'instructor', members: [] }];

function show() {
  const queries = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  queries.setQueryData(['me'], { id: 1, name: 'dalca', display: 'R. Dalca', roles: ['instructor'] });
  render(
    <QueryClientProvider client={queries}>
      <MemoryRouter>
        <People />
      </MemoryRouter>
    </QueryClientProvider>,
  );
}

describe('people', () => {
  beforeEach(() => {
    const answer = (path: string) => (path === '/api/classes' ? classes : people);
    vi.spyOn(api, 'GET').mockImplementation(((path: string) =>
      Promise.resolve({ data: answer(path), response })) as typeof api.GET);
  });

  it('are added from a list, and their passwords are shown once', async () => {
    const told = [
      { id: 4, name: 'moreno', display: 'A. Moreno', password: 'aaaa-bbbb-cccc' },
      { id: 5, name: 'casey', display: 'C. Okoro', password: 'dddd-eeee-ffff' },
    ];
    const post = vi.spyOn(api, 'POST').mockResolvedValue({ data: told, response });
    const user = userEvent.setup();
    show();
    const add = await screen.findByRole('button', { name: 'Add student' });
    expect(add).toBeDisabled();
    await user.type(screen.getByRole('textbox'), 'A. Moreno\nC. Okoro, casey');
    await user.click(screen.getByRole('button', { name: 'Add 2 students' }));
    const body = { people: [{ display: 'A. Moreno' }, { display: 'C. Okoro', name: 'casey' }], class: 1 };
    expect(post).toHaveBeenCalledWith('/api/people', { body });
    const cards = await screen.findByRole('region', { name: 'Sign-in cards' });
    expect(within(cards).getByText('aaaa-bbbb-cccc')).toBeInTheDocument();
    await user.click(screen.getByRole('button', { name: 'Done' }));
    expect(screen.queryByText('aaaa-bbbb-cccc')).not.toBeInTheDocument();
    expect(screen.getByRole('textbox')).toHaveValue('');
  });

  it('keep what was typed when it is refused', async () => {
    const refused = new Response(null, { status: 400 });
    const error = { detail: 'the name varga is taken' };
    vi.spyOn(api, 'POST').mockResolvedValue({ error, response: refused });
    const user = userEvent.setup();
    show();
    await user.type(await screen.findByRole('textbox'), 'B. Varga, varga');
    await user.click(screen.getByRole('button', { name: 'Add student' }));
    expect(await screen.findByText('The name varga is taken.')).toBeInTheDocument();
    expect(screen.getByRole('textbox')).toHaveValue('B. Varga, varga');
  });

  it('leave and come back, and only students do', async () => {
    const put = vi.spyOn(api, 'PUT').mockResolvedValue({ response });
    const user = userEvent.setup();
    show();
    await user.click(await screen.findByRole('button', { name: 'Has left: I. Varga' }));
    expect(put).toHaveBeenCalledWith('/api/people/{id}/left', { params: { path: { id: 2 } } });
    expect(screen.getByRole('button', { name: 'Is back: T. Oduya' })).toBeInTheDocument();
    expect(screen.queryByRole('button', { name: 'New password: T. Oduya' })).not.toBeInTheDocument();
    expect(screen.queryByRole('button', { name: 'Has left: R. Dalca' })).not.toBeInTheDocument();
  });
});
