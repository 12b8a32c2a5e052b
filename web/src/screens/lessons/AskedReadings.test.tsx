import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it, vi } from 'vitest';

import type { Schemas } from '../../api/client';
import { served } from '../../test/served';
import { AskedReadings } from './AskedReadings';

type Task = Extract<Schemas['Task'], { kind: 'predict' }>;

const asked = (red: string) => ({ function: 'dc_volts', red, black: 'BAT.-', state: { key: 'off', inputs: {} } });
const task = { kind: 'predict', ask: [asked('F1.1'), asked('S1.2')], reason_marks: 30 } as unknown as Task;
const reds = (of: Task | undefined) => of?.ask.map((a) => a.red);

describe('the readings that a lesson asks for', () => {
  it('come in another order, or are left out, but for the last', async () => {
    const onChange = vi.fn<(task: Task) => void>();
    served(<AskedReadings task={task} onChange={onChange} />, { '/api/instruments': [] });
    expect(screen.getByRole('button', { name: 'Earlier: reading 1' })).toBeDisabled();
    await userEvent.click(screen.getByRole('button', { name: 'Earlier: reading 2' }));
    expect(reds(onChange.mock.lastCall?.[0])).toEqual(['S1.2', 'F1.1']);
    await userEvent.click(screen.getByRole('button', { name: 'Leave out: reading 1' }));
    expect(reds(onChange.mock.lastCall?.[0])).toEqual(['S1.2']);
    document.body.replaceChildren();
    served(<AskedReadings task={{ ...task, ask: task.ask.slice(1) }} onChange={onChange} />, {
      '/api/instruments': [],
    });
    expect(screen.getByRole('button', { name: 'Leave out: reading 1' })).toBeDisabled();
  });
});
