import { screen, within } from '@testing-library/react';
import { afterEach, describe, expect, it, vi } from 'vitest';

import type { Schemas } from '../../api/client';
import { served } from '../../test/served';
import { USUAL } from '../classes/Terms';
import Start from './Start';

const given = (id: number, part: Partial<Schemas['AssignmentView']>): Schemas['AssignmentView'] => ({
  id,
  class: 1,
  class_name: 'First year',
  lesson: 1,
  title: `Lesson ${id}`,
  whole_class: true,
  dealt: 0,
  terms: USUAL,
  released: false,
  made_at: 0,
  given: 10,
  handed_in: 3,
  ...part,
});
const me = { name: 'dalca', display: 'R. Dalca', roles: ['instructor'] };
const soon = Math.floor(Date.now() / 1000) + 3600;

describe('where who teaches begins', () => {
  afterEach(() => vi.restoreAllMocks());

  const begin = (help: Schemas['HelpItem'][], assignments: Schemas['AssignmentView'][]) =>
    served(<Start />, {
      '/api/me': me,
      '/api/start/help': help,
      '/api/assignments': assignments,
      '/api/second-looks': [],
      '/api/classes': [{ id: 1 }],
    });

  it('names who needs help, the dangerous first as the server has them', async () => {
    const of = (student: string, part: Partial<Schemas['HelpItem']>): Schemas['HelpItem'] => ({
      assignment: 4,
      title: 'Tug',
      class: 'First year',
      student,
      attempt: 9,
      stuck_minutes: 0,
      ...part,
    });
    begin(
      [of('T. Oduya', { danger: 'A lead across the source.' }), of('I. Varga', { attempt: 8, stuck_minutes: 7 })],
      [],
    );
    const help = await screen.findByRole('region', { name: 'Who needs help now' });
    const items = await within(help).findAllByRole('listitem');
    expect(items[0]).toHaveTextContent('T. Oduya A lead across the source.');
    expect(items[1]).toHaveTextContent('I. Varga has learnt nothing for 7 min');
  });

  it('lists what is open, what is due soonest first, and not what is done or closed', async () => {
    begin(
      [],
      [
        given(1, {}),
        given(2, { terms: { ...USUAL, due_at: soon } }),
        given(3, { handed_in: 10 }),
        given(4, { terms: { ...USUAL, closes_at: 5 } }),
      ],
    );
    const open = await screen.findByRole('region', { name: 'Given out' });
    const links = await within(open).findAllByRole('link');
    expect(links.map((l) => l.textContent)).toEqual(['Lesson 2', 'Lesson 1']);
  });

  it('says which marks nobody sees yet', async () => {
    const terms = { ...USUAL, sheets: 'released' };
    begin([], [given(1, { handed_in: 10, terms }), given(2, { handed_in: 10, terms, released: true })]);
    const hidden = await screen.findByRole('region', { name: 'To release' });
    expect(within(hidden).getAllByRole('listitem')).toHaveLength(1);
  });
});
