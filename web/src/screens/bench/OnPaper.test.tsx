import { screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, describe, expect, it, vi } from 'vitest';

import type { AttemptView } from '../../api/client';
import { attempt as onBench } from '../../test/attempt';
import { served } from '../../test/served';
import { OnPaper } from './OnPaper';

const reading = (no: number, red: string, choice: object[] = []) => ({
  no,
  function: 'dc_volts',
  red,
  black: 'BAT.-',
  state: `lamps ${no}`,
  choice,
});
const WHY = [{ reason: 'not_reached', text: 'the supply does not reach this point' }];
const attempt = (more: Partial<AttemptView> = {}) =>
  ({ ...onBench(), asked: [reading(1, 'F1.1'), reading(2, 'S1.2', WHY)], ...more }) as AttemptView;

describe('predicting on paper', () => {
  beforeEach(() => document.body.replaceChildren());
  const begin = (of: AttemptView, act: (action: unknown) => Promise<unknown>, error: Error | null = null) =>
    served(<OnPaper id={7} attempt={of} act={act as never} busy={false} error={error} />, {
      '/api/instruments': [{ function: 'dc_volts', label: 'DC volts', hint: 'V', put_on: 'points' }],
    });

  it('writes a reading with Enter, goes on to the next, and says its state', async () => {
    const act = vi.fn().mockResolvedValue({});
    begin(attempt(), act);
    await userEvent.type(screen.getByLabelText('Reading 1, expected'), '12.6{Enter}');
    expect(act).toHaveBeenCalledWith({ do: 'predict', no: 1, expected: '12.6', reason: null });
    expect(screen.getByLabelText('Reading 2, expected')).toHaveFocus();
    expect(screen.getByText('Reading 2 is taken in: lamps 2')).toBeInTheDocument();
  });

  it('sends a reason once there is a value, and nothing twice', async () => {
    const act = vi.fn().mockResolvedValue({});
    const predicted = [{ step: 1, no: 1, expected: '12.6', reason: null }];
    begin(attempt({ bench: { ...onBench().bench, predicted } }), act);
    await userEvent.selectOptions(screen.getByLabelText('Reading 2, reason'), 'not_reached');
    expect(act).not.toHaveBeenCalled();
    await userEvent.type(screen.getByLabelText('Reading 2, expected'), '0{Enter}');
    expect(act).toHaveBeenLastCalledWith({ do: 'predict', no: 2, expected: '0', reason: 'not_reached' });
    act.mockClear();
    await userEvent.type(screen.getByLabelText('Reading 1, expected'), '{Enter}');
    expect(act).not.toHaveBeenCalled();
    expect(screen.getByText('1 of 2 written')).toBeInTheDocument();
  });

  it('keeps what was refused, and says why beside it', async () => {
    begin(attempt(), () => Promise.resolve(undefined), new Error('expected a number such as 12.1'));
    await userEvent.type(screen.getByLabelText('Reading 1, expected'), 'lots{Enter}');
    await waitFor(() =>
      expect(document.querySelector('[data-asked="1"] [role=alert]')).toHaveTextContent('such as 12.1'),
    );
    expect(screen.getByLabelText('Reading 1, expected')).toHaveValue('lots');
  });

  it('says of each what was not taken down, and takes it down before it is handed in', async () => {
    const act = vi.fn().mockResolvedValue(undefined);
    begin(attempt(), act, new Error('cannot be reached'));
    await userEvent.type(screen.getByLabelText('Reading 1, expected'), '12.6{Enter}');
    await userEvent.type(screen.getByLabelText('Reading 2, expected'), '0{Enter}');
    const alerts = () => [...document.querySelectorAll('[data-asked] [role=alert]')].map((e) => e.textContent);
    await waitFor(() => expect(alerts()).toEqual([expect.stringContaining('try again'), 'cannot be reached']));
    // Still nothing: it is not handed in without them.
    act.mockClear();
    await userEvent.click(screen.getByRole('button', { name: 'Hand in' }));
    expect(act).toHaveBeenCalledTimes(1);
    expect(screen.getByLabelText('Reading 1, expected')).toHaveFocus();
    act.mockClear().mockResolvedValue({ missing: [] });
    window.dispatchEvent(new Event('online'));
    await waitFor(() => expect(act).toHaveBeenCalledTimes(2));
    expect(act.mock.calls.map(([a]) => (a as { no: number }).no)).toEqual([1, 2]);
  });
});
