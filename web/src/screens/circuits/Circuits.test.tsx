import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, describe, expect, it } from 'vitest';

import { served } from '../../test/served';
import Circuits from './Circuits';

const circuit = (id: number, title: string, put_away = false) => ({ id, title, put_away, updated_at: 1_700_000_000 });
const ALL = [circuit(1, 'Baggage tug, starting'), circuit(2, 'Belt loader, starting'), circuit(3, 'Tried out', true)];
const reads = {
  '/api/circuits': ALL,
  '/api/me': { id: 1, name: 'dalca', display: 'R. Dalca', roles: ['instructor'] },
};
const titles = () => [...document.querySelectorAll('main tbody a[href$="/fault-bench"]')].map((a) => a.textContent);

describe('the list of circuits', () => {
  beforeEach(() => document.body.replaceChildren());

  it('holds those that are not put away, and finds one by every word of its title', async () => {
    served(<Circuits />, reads);
    await screen.findByText('Belt loader, starting');
    expect(titles()).toEqual(['Baggage tug, starting', 'Belt loader, starting']);
    await userEvent.type(screen.getByLabelText('Find a circuit by its title'), 'START belt');
    expect(titles()).toEqual(['Belt loader, starting']);
    await userEvent.type(screen.getByLabelText('Find a circuit by its title'), ' x');
    expect(screen.getByText('No circuit has such a title.')).toBeInTheDocument();
  });

  it('deletes only what was put away, once one has said so', async () => {
    const sent = served(<Circuits />, reads);
    await userEvent.click(await screen.findByRole('button', { name: 'Put away: Baggage tug, starting' }));
    expect(sent.at(-1)).toMatchObject({ method: 'PUT', id: 1, body: { put_away: true } });
    expect(screen.queryByRole('button', { name: /^Delete/ })).toBeNull();
    await userEvent.click(screen.getByRole('checkbox', { name: 'Those put away' }));
    expect(titles()).toEqual(['Tried out']);
    await userEvent.click(screen.getByRole('button', { name: 'Delete: Tried out' }));
    expect(sent.filter((s) => s.method === 'DELETE')).toEqual([]);
    await userEvent.click(await screen.findByRole('button', { name: 'Delete' }));
    expect(sent.at(-1)).toMatchObject({ method: 'DELETE', id: 3 });
    await userEvent.click(screen.getByRole('button', { name: 'Take back: Tried out' }));
    expect(sent.at(-1)).toMatchObject({ method: 'PUT', id: 3, body: { put_away: false } });
  });
});
