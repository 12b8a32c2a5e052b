import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';

import type { Schemas } from '../../api/client';
import { served, type Sent } from '../../test/served';
import { ManyMarks } from './ManyMarks';

const cell = (attempt: number, state: Schemas['CellState'] = 'marked'): Schemas['BookCell'] => ({
  attempt,
  attempts: 1,
  state,
  late: false,
  computed: 70,
  given: false,
  final: 70,
  says: '70.0',
});
const row = (student: number, display: string, of: Schemas['BookCell']): Schemas['BookRow'] => ({
  student,
  display,
  left: false,
  cells: [of],
  mean: 70,
  says: '70.0',
});
const book: Schemas['Book'] = {
  class: 'First year',
  marks: true,
  columns: [{ assignment: 1, title: 'Tug', category: '', made_at: 0, count: 2, released: true }],
  categories: [{ category: '' }],
  rows: [row(2, 'I. Varga', cell(7)), row(3, 'T. Oduya', cell(8)), row(4, 'S. Lindqvist', cell(9, 'at_work'))],
};
const sheet = {
  total: 70,
  lines: [
    { criterion: 'approach', title: 'Approach', marks: 2, out_of: 5, details: [], given: null },
    { criterion: 'clearing', title: 'Clearing', marks: 12, out_of: 20, details: [], given: null },
  ],
};

describe('the same marks for several', () => {
  let sent: Sent[] = [];
  beforeEach(async () => {
    sent = served(<ManyMarks id={1} book={book} />, { '/api/attempts/{id}/sheet': sheet });
    await userEvent.click(screen.getByRole('button', { name: 'Marks for several' }));
  });
  afterEach(() => vi.restoreAllMocks());

  const choose = async (line: string) => {
    await userEvent.click(screen.getByRole('combobox', { name: 'Line' }));
    await userEvent.click(await screen.findByText(line));
  };

  it('go to everybody who is marked, and to nobody at work', async () => {
    expect(screen.getByRole('checkbox', { name: /Varga/ })).toBeChecked();
    expect(screen.queryByText(/Lindqvist/)).toBeNull();
    await choose('Approach, of 5.0');
    await userEvent.type(screen.getByRole('spinbutton'), '5');
    const give = screen.getByRole('button', { name: 'Give to 2 sheets' });
    expect(give).toBeDisabled();
    await userEvent.type(screen.getByRole('textbox'), 'Shown in class.');
    await userEvent.click(give);
    await vi.waitFor(() =>
      expect(sent.at(-1)?.body).toEqual({
        attempts: [7, 8],
        given: { criterion: 'approach', marks: 5, reason: 'Shown in class.' },
      }),
    );
  });

  it('leave out whom one leaves out, and may be a comment alone', async () => {
    await userEvent.click(screen.getByRole('checkbox', { name: /Varga/ }));
    await choose('Clearing, of 20.0');
    await userEvent.type(screen.getByRole('textbox'), 'Say sooner what a reading rules out.');
    await userEvent.click(screen.getByRole('button', { name: 'Give to 1 sheet' }));
    await vi.waitFor(() => expect(sent.at(-1)?.body).toMatchObject({ attempts: [8], given: { marks: null } }));
  });
});
