import { screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { Navigate, Route, Routes } from 'react-router';
import { afterEach, describe, expect, it, vi } from 'vitest';

import { served } from '../../test/served';
import Maker, { titleOf } from './Maker';

const proposed = {
  fault: { place: 'W8', mode: 'open' },
  text: 'W8 open',
  complaint: 'No crank, no click.',
  as_hard: 1,
  proof: {
    places: 14,
    readings: 5,
    minutes: 17,
    bits: 3.8,
    misleading: 20,
    group: ['W8'],
    skills: [{ skill: 'halving', shown: true }],
    hinders: [],
  },
};

describe('the lesson maker', () => {
  afterEach(() => vi.restoreAllMocks());

  const begin = (answer: unknown) =>
    served(
      <Routes>
        <Route path="/" element={<Navigate to="/circuits/1/lessons" />} />
        <Route path="/circuits/:id/lessons" element={<Maker />} />
      </Routes>,
      {
        '/api/me': { name: 'dalca', display: 'R. Dalca', roles: ['instructor'] },
        '/api/circuits': [{ id: 1, title: 'Baggage tug, starting' }],
        '/api/skills': [{ id: 'halving', name: 'halving a path', about: 'Halves.', needs: [] }],
        '/api/classes': [],
      },
      { '/api/lessons/proposals': answer, '/api/lessons': { id: 5 } },
    );

  const find = async () => {
    const button = await screen.findByRole('button', { name: 'Find lessons' });
    await waitFor(() => expect(button).toBeEnabled());
    await userEvent.click(button);
  };

  it('drafts a title from what is noticed first', () => {
    expect(titleOf('Baggage tug, starting', 'No crank, no click. Lamp dim.')).toBe('Baggage tug: no crank');
    expect(titleOf('Sweeper, lamps', 'Work lamps: work lamp dark, marker lamp dim.')).toBe('Sweeper: work lamp dark');
    expect(titleOf('Baggage tug, starting', '')).toBe('Baggage tug: look it over');
  });

  it('says what was tried where nothing suits', async () => {
    begin({ found: [], tried: 40, of: 200 });
    await find();
    expect(await screen.findByText(/None of the 40 faults that were tried \(of 200\)/)).toBeInTheDocument();
  });

  it('proposes, takes other words, saves and gives out', async () => {
    const sent = begin({ found: [proposed], tried: 3, of: 200 });
    await find();
    const card = await screen.findByRole('region', { name: /no crank/ });
    expect(card).toHaveTextContent('17 min · 5 readings · 14 places');
    expect(card).toHaveTextContent('1 of the others is as hard');
    const words = within(card).getByLabelText(/customer’s words/);
    await userEvent.clear(words);
    await userEvent.type(words, 'Nothing happens.');
    await userEvent.click(within(card).getByRole('button', { name: 'Save as a lesson' }));
    expect(await within(card).findByText('Saved.')).toBeInTheDocument();
    expect(sent.at(-1)).toMatchObject({
      path: '/api/lessons',
      body: { complaint: 'Nothing happens.', faults: [proposed.fault], purpose: 'marks' },
    });
    expect(within(card).getByRole('button', { name: 'Give out' })).toBeInTheDocument();
  });
});
