import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, describe, expect, it, vi } from 'vitest';

import type { AttemptView } from '../../api/client';
import { attempt as onBench, bench } from '../../test/attempt';
import { served } from '../../test/served';
import { nextId, sizeOf, Wiring } from './Wiring';

const build: NonNullable<AttemptView['build']> = { list: [], ends: ['F1.2', 'S1.1'], given: ['W1'] };
const wire = (id: string) => ({ id, from: 'F1.2', to: 'S1.1', area_mm2: 1.5, length_m: 0.6, color: 'RD' });

describe('wiring a machine', () => {
  beforeEach(() => document.body.replaceChildren());
  const begin = (act: (action: unknown) => Promise<unknown>, wires = [wire('W1')], more: Partial<typeof build> = {}) =>
    served(
      <Wiring attempt={onBench({ bench: bench({ wires }) })} build={{ ...build, ...more }} act={act} busy={false} />,
    );

  it('puts a wire in under the first free name, and keeps its size for the next', async () => {
    const act = vi.fn().mockResolvedValue({});
    begin(act, [wire('W1'), wire('W2')]);
    expect(screen.getByRole('button', { name: 'Put in' })).toBeDisabled();
    await userEvent.type(screen.getByLabelText('From'), 'F1.2');
    await userEvent.type(screen.getByLabelText('To'), 'S1.1');
    await userEvent.type(screen.getByLabelText('Area in mm²'), '1,5');
    await userEvent.type(screen.getByLabelText('Colour'), 'rd/bu{Enter}');
    expect(act).toHaveBeenCalledWith({
      do: 'wire',
      wire: { id: 'W3', from: 'F1.2', to: 'S1.1', area_mm2: 1.5, length_m: null, color: 'RD/BU' },
    });
    expect(screen.getByLabelText('From')).toHaveValue('');
    expect(screen.getByLabelText('Area in mm²')).toHaveValue('1,5');
  });

  it('keeps what was refused', async () => {
    begin(vi.fn().mockResolvedValue(undefined));
    await userEvent.type(screen.getByLabelText('Say a path'), 'F1.2 > S1.1{Enter}');
    expect(screen.getByLabelText('Say a path')).toHaveValue('F1.2 > S1.1');
  });

  it('takes a wire out, and puts it in again; what was given stays', async () => {
    const act = vi.fn().mockResolvedValue({});
    begin(act, [wire('W1'), wire('W2')]);
    expect(screen.queryByRole('button', { name: 'Take out W1' })).toBeNull();
    await userEvent.click(screen.getByRole('button', { name: 'Take out W2' }));
    expect(act).toHaveBeenLastCalledWith({ do: 'unwire', wire: 'W2' });
    await userEvent.click(screen.getByRole('button', { name: 'Put W2 in again' }));
    expect(act).toHaveBeenLastCalledWith({ do: 'wire', wire: wire('W2') });
  });

  it('shows the list where there is one, and how far one is', () => {
    begin(vi.fn(), [wire('W1')], { list: [wire('W5')] });
    expect(screen.getByText('0 put in of 1 listed')).toBeInTheDocument();
    expect(screen.getByRole('table', { name: 'Wire list' })).toHaveTextContent('W5');
    expect(screen.getByLabelText('Number')).toHaveValue('');
  });

  it('names and sizes', () => {
    expect(nextId(['W1', 'W2', 'W4'])).toBe('W3');
    expect(sizeOf({ id: 'W1', from: '', to: '', awg: 14 })).toBe('AWG 14');
    expect(sizeOf(wire('W1'))).toBe('1.5 mm² RD, 0.6 m');
  });
});
