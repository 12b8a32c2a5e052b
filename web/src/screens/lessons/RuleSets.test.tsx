// Rules under a name: taken, kept, replaced and forgotten.
import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, describe, expect, it, vi } from 'vitest';

import { served } from '../../test/served';
import { RuleSets, type Reused } from './RuleSets';

const rules = (limit_minutes: number | null): Reused =>
  ({ predictions: true, functions: ['dc_volts'], rules: { limit_minutes } }) as unknown as Reused;
const SETS = [
  { id: 1, name: 'First year', author: 'R. Dalca', own: true, reused: rules(30) },
  { id: 2, name: 'Examination', author: 'P. Keller', own: false, reused: rules(60) },
];

afterEach(() => vi.restoreAllMocks());

function shown() {
  const onTake = vi.fn();
  const sent = served(
    <RuleSets reused={rules(45)} onTake={onTake} />,
    { '/api/rule-sets': SETS },
    { '/api/rule-sets': { id: 3 } },
  );
  return { sent, onTake };
}

async function choose(name: RegExp) {
  await userEvent.click(screen.getByRole('combobox', { name: 'Instruments and rules as in' }));
  await userEvent.click(await screen.findByText(name));
}

describe('rules that were kept', () => {
  it('are taken, also another instructor’s, who alone forgets them', async () => {
    const { onTake } = shown();
    await choose(/Examination, P. Keller/);
    expect(onTake).toHaveBeenCalledWith(SETS[1]?.reused);
    expect(screen.getByRole('status')).toHaveTextContent('As in “Examination” now');
    expect(screen.queryByRole('button', { name: 'Forget it' })).toBeNull();
  });

  it('are kept under a name, and one’s own are offered to be replaced', async () => {
    const { sent } = shown();
    await userEvent.click(screen.getByRole('button', { name: 'Keep these under a name' }));
    expect(screen.getByLabelText('Name of these rules')).toHaveFocus();
    expect(screen.getByRole('button', { name: 'Keep' })).toBeDisabled();
    await userEvent.type(screen.getByLabelText('Name of these rules'), 'Second year{Enter}');
    expect(sent[0]).toMatchObject({ method: 'POST', body: { name: 'Second year', reused: rules(45) } });
    expect(await screen.findByText('Kept as “Second year”.')).toBeInTheDocument();
    await choose(/First year/);
    await userEvent.click(screen.getByRole('button', { name: 'Keep these under a name' }));
    expect(screen.getByLabelText('Name of these rules')).toHaveValue('First year');
  });

  it('are forgotten once that is said twice', async () => {
    const { sent } = shown();
    await choose(/First year/);
    await userEvent.click(screen.getByRole('button', { name: 'Forget it' }));
    expect(sent).toEqual([]);
    await userEvent.click(await screen.findByRole('button', { name: 'Forget' }));
    expect(sent[0]).toMatchObject({ method: 'DELETE', path: '/api/rule-sets/{id}' });
    expect(await screen.findByText('“First year” is forgotten.')).toBeInTheDocument();
  });
});
