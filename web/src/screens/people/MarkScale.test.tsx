import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';

import { served, type Sent } from '../../test/served';
import { MarkScale } from './MarkScale';

const letter = (name: string, from: number) => ({ name, from });
const USUAL = [
  { name: 'A to F', grades: [letter('A', 90), letter('B', 80), letter('C', 70), letter('D', 60), letter('F', 0)] },
  { name: 'Pass or fail', grades: [letter('pass', 70), letter('not yet', 0)] },
];

describe('the scale of marks', () => {
  let sent: Sent[] = [];
  beforeEach(() => {
    sent = served(<MarkScale />, { '/api/school/scale': { scale: { rounding: 'tenth', grades: [] }, usual: USUAL } });
  });
  afterEach(() => vi.restoreAllMocks());

  it('begins from a usual one, and is the school’s to change', async () => {
    const open = screen.getByRole('button', { name: 'Scale of marks' });
    await vi.waitFor(() => expect(open).toBeEnabled());
    await userEvent.click(open);
    await userEvent.click(await screen.findByRole('button', { name: 'Pass or fail' }));
    const name = screen.getByRole('textbox', { name: 'Grade 1' });
    await userEvent.clear(name);
    await userEvent.type(name, 'ready');
    const from = screen.getByRole('spinbutton', { name: 'Marks from which on grade 1 is given' });
    await userEvent.clear(from);
    await userEvent.type(from, '75');
    await userEvent.click(screen.getByRole('radio', { name: 'halves' }));
    await userEvent.click(screen.getByRole('button', { name: 'Save' }));
    await vi.waitFor(() =>
      expect(sent.map((s) => s.body)).toEqual([
        {
          rounding: 'half',
          grades: [
            { name: 'ready', from: 75 },
            { name: 'not yet', from: 0 },
          ],
        },
      ]),
    );
  });

  it('loses a grade when that is removed', async () => {
    const open = screen.getByRole('button', { name: 'Scale of marks' });
    await vi.waitFor(() => expect(open).toBeEnabled());
    await userEvent.click(open);
    await userEvent.click(await screen.findByRole('button', { name: 'A to F' }));
    await userEvent.click(screen.getByRole('button', { name: 'Remove grade 4' }));
    const names = screen.getAllByRole('textbox').map((field) => (field as HTMLInputElement).value);
    expect(names).toEqual(['A', 'B', 'C', 'F']);
    expect(sent).toEqual([]);
  });
});
