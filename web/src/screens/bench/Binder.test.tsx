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
  tables: [{ title: 'C12, at the bulkhead', head: ['Cavity', 'Colour'], rows: [['1', 'RD/BU']] }],
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

  it('remembers what was doubted, and opens nothing after the work was handed in', async () => {
    const doubted = [{ step: 4, sheet: 'connectors', at: 'C12' }];
    binder({ bench: bench({ opened: ['connectors'], doubted, handed_in: true }) });
    await userEvent.click(screen.getByRole('button', { name: /^Binder/ }));
    await userEvent.click(await screen.findByRole('button', { name: 'Connector views' }));
    expect(await screen.findByText('another variant’s, you said')).toBeInTheDocument();
    expect(screen.getByRole('button', { name: /Fuses/ })).toBeDisabled();
  });
});
