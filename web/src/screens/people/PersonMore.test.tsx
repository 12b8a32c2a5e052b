import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, describe, expect, it, vi } from 'vitest';

import type { Schemas } from '../../api/client';
import { served } from '../../test/served';
import { PersonMore } from './PersonMore';

type Person = Schemas['PersonView'];

const person = (id: number, name: string, ...roles: string[]): Person => ({
  id,
  name,
  display: name.toUpperCase(),
  roles: roles.length > 0 ? roles : ['student'],
  left: false,
});
const varga = person(2, 'varga');
const people = [person(1, 'dalca', 'instructor'), varga, person(3, 'varga2')];
const open = () => userEvent.click(screen.getByRole('button', { name: /^More/ }));
const items = () => screen.getAllByRole('menuitem').map((item) => item.textContent);

describe('what is seldom done with somebody', () => {
  afterEach(() => vi.restoreAllMocks());

  it('is a link alone for an instructor', async () => {
    served(<PersonMore person={varga} people={people} administers={false} />);
    await open();
    expect(items()).toEqual(['Link to set a password']);
  });

  it('is no erasing of a colleague', async () => {
    served(<PersonMore person={people[0]!} people={people} administers />);
    await open();
    expect(items().join()).not.toMatch(/Erase|same student/);
  });

  it('makes a link of this page’s own address', async () => {
    const made = { display: 'VARGA', path: '/new-password#abc' };
    const sent = served(
      <PersonMore person={varga} people={people} administers />,
      {},
      {
        '/api/people/{id}/reset-link': made,
      },
    );
    await open();
    await userEvent.click(screen.getByRole('menuitem', { name: 'Link to set a password' }));
    await userEvent.click(screen.getByRole('button', { name: 'Make the link' }));
    expect(await screen.findByDisplayValue('http://localhost:3000/new-password#abc')).toBeInTheDocument();
    expect(sent).toEqual([expect.objectContaining({ method: 'POST', id: 2 })]);
  });

  it('erases once the name was typed, and says why it was refused', async () => {
    const sent = served(
      <PersonMore person={varga} people={people} administers />,
      {},
      {
        '/api/people/{id}': new Error('somebody works on it'),
      },
    );
    await open();
    await userEvent.click(screen.getByRole('menuitem', { name: 'Erase for good …' }));
    const erase = screen.getByRole('button', { name: 'Erase for good' });
    expect(erase).toBeDisabled();
    await userEvent.type(screen.getByRole('textbox'), 'varg');
    expect(erase).toBeDisabled();
    await userEvent.type(screen.getByRole('textbox'), 'a');
    await userEvent.click(erase);
    expect(await screen.findByText('Somebody works on it.')).toBeInTheDocument();
    expect(sent).toEqual([expect.objectContaining({ method: 'DELETE', id: 2 })]);
  });

  it('makes two records one, into another student', async () => {
    const sent = served(<PersonMore person={varga} people={people} administers />);
    await open();
    await userEvent.click(screen.getByRole('menuitem', { name: 'Is the same student as …' }));
    expect(screen.getByRole('button', { name: 'Make them one' })).toBeDisabled();
    await userEvent.click(screen.getByRole('combobox', { name: 'Who stays' }));
    expect(screen.queryByText('DALCA (dalca)')).toBeNull();
    await userEvent.click(await screen.findByText('VARGA2 (varga2)'));
    await userEvent.click(screen.getByRole('button', { name: /^Make them one: VARGA2/ }));
    await vi.waitFor(() => expect(sent).toEqual([expect.objectContaining({ id: 2, body: { into: 3 } })]));
  });
});
