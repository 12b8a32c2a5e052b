import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, describe, expect, it, vi } from 'vitest';

import type { AttemptView } from '../../api/client';
import { attempt, bench } from '../../test/attempt';
import { served } from '../../test/served';
import { Binder } from './Binder';

const CONTENTS = [
  { sheet: 'connectors', title: 'Connector views' },
  { sheet: 'fuses', title: 'Fuses' },
];
const FACES = {
  title: 'Connector views',
  about: 'From the wires’ side.',
  tables: [{ title: 'C12, at the bulkhead', connector: 'C12', head: ['Cavity', 'Colour'], rows: [['1', 'RD/BU']] }],
};

function binder(of: Partial<AttemptView>) {
  const act = vi.fn(() => Promise.resolve({}));
  served(<Binder attempt={attempt({ binder: CONTENTS, ...of })} act={act} />, {
    '/api/attempts/{id}/binder/{sheet}': FACES,
  });
  return act;
}

describe('the binder', () => {
  beforeEach(() => document.body.replaceChildren());

  it('is not there where the papers lie open', () => {
    render(<Binder attempt={attempt()} act={vi.fn()} />);
    expect(screen.queryByRole('button')).toBeNull();
  });

  it('has contents, and looks a sheet up', async () => {
    const act = binder({});
    await userEvent.click(screen.getByRole('button', { name: 'Binder' }));
    expect(await screen.findByText('Nothing lies open yet.')).toBeInTheDocument();
    await userEvent.click(screen.getByRole('button', { name: /^Fuses/ }));
    expect(act).toHaveBeenCalledWith({ do: 'open_sheet', sheet: 'fuses' });
  });

  it('shows what lies open, of which something may be doubted', async () => {
    const act = binder({ bench: bench({ opened: ['connectors'] }) });
    await userEvent.click(screen.getByRole('button', { name: 'Binder (1 of 2)' }));
    await userEvent.click(await screen.findByRole('button', { name: 'Connector views' }));
    expect(act).not.toHaveBeenCalled();
    expect(await screen.findByRole('cell', { name: 'RD/BU' })).toBeInTheDocument();
    await userEvent.click(screen.getByRole('button', { name: 'C12 is not so on this machine' }));
    expect(act).toHaveBeenCalledWith({ do: 'doubt_sheet', sheet: 'connectors', at: 'C12' });
  });

  it('sketches what hangs on a harness', async () => {
    const act = vi.fn();
    const hanging = [
      { id: 'BAT', is: 'part', about: 'Battery', place: '', minutes: 1 },
      { id: 'G1', is: 'ground', about: 'ground', place: 'engine, bracket', minutes: 3 },
      { id: 'C3', is: 'connector', about: 'connector, 4 cavities', place: 'column', minutes: 2 },
      { id: 'SP1', is: 'splice', about: 'splice', place: 'inside the loom', minutes: null },
    ];
    const tables = [{ title: 'main', head: ['', 'What', 'Where', 'Minutes'], rows: [['BAT', 'Battery', '', '1']] }];
    const sheet = { title: 'Where things are', about: '', tables, looms: [{ title: 'main', hanging }] };
    const binder = [{ sheet: 'locations', title: 'Where things are' }];
    served(<Binder attempt={attempt({ binder, bench: bench({ opened: ['locations'] }) })} act={act} />, {
      '/api/attempts/{id}/binder/{sheet}': sheet,
    });
    await userEvent.click(screen.getByRole('button', { name: /^Binder/ }));
    await userEvent.click(await screen.findByRole('button', { name: 'Where things are' }));
    const sketch = await screen.findByRole('img', { name: 'Sketch of main' });
    expect([...sketch.querySelectorAll('text')].map((t) => t.textContent)).toEqual(
      expect.arrayContaining(['BAT', 'Battery', 'C3', 'column', 'SP1']),
    );
  });

  it('remembers what was doubted, and opens nothing after the work was handed in', async () => {
    const doubted = [{ step: 4, sheet: 'connectors', at: 'C12' }];
    binder({ bench: bench({ opened: ['connectors'], doubted, handed_in: true }) });
    await userEvent.click(screen.getByRole('button', { name: /^Binder/ }));
    await userEvent.click(await screen.findByRole('button', { name: 'Connector views' }));
    expect(await screen.findByText('another variant’s, you said')).toBeInTheDocument();
    expect(screen.getByRole('button', { name: /Fuses/ })).toBeDisabled();
  });
});
