import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it, vi } from 'vitest';

import type { Looks, Schemas } from '../api/client';
import { band, ChoosePattern, same } from './ChoosePattern';

const flat: Looks = { form: 'flat', peak: 'under 1', often: 'never' };
const pulses: Looks = { form: 'pulses', peak: '100 to 600', often: 'once' };
const of: Schemas['Patterns'] = {
  name: 'T1.1 to B7.-',
  patterns: [
    { looks: flat, says: 'stands still, under 1 V', reaches: '0.00 V', columns: [[0, 0]] },
    {
      looks: pulses,
      says: 'pulses to one side, 100 V to 600 V, once',
      reaches: '312 V',
      columns: [
        [0, 12],
        [0, 312],
      ],
    },
  ],
};

describe('what a channel will show', () => {
  it('is chosen by mouse and by keyboard, one at a time', async () => {
    const choose = vi.fn();
    const { rerender } = render(<ChoosePattern of={of} onChoose={choose} />);
    expect(screen.getByRole('radiogroup', { name: 'What a healthy T1.1 to B7.- shows' })).toBeInTheDocument();
    await userEvent.click(screen.getByText(/100 V to 600 V/));
    expect(choose).toHaveBeenLastCalledWith(pulses);
    rerender(<ChoosePattern of={of} chosen={pulses} onChoose={choose} />);
    expect(screen.getByRole('radio', { name: /pulses/ })).toBeChecked();
    screen.getByRole('radio', { name: /pulses/ }).focus();
    await userEvent.keyboard('{ArrowUp}');
    expect(choose).toHaveBeenLastCalledWith(flat);
  });

  it('is the same only by all that is said of it', () => {
    expect(same(pulses, { ...pulses })).toBe(true);
    expect(same(pulses, { ...pulses, often: 'never' })).toBe(false);
    expect(same(undefined, flat)).toBe(false);
  });

  it('is drawn with zero on its picture, also where it stands still', () => {
    const [up] = band([
      [0, 12],
      [0, 312],
    ]).split(' ');
    expect(up).toBe('0.0,40.5');
    expect(band([[0, 0]])).not.toContain('NaN');
    // What stands at 12 V has its zero below it.
    expect(band([[12, 12]])).toBe('0.0,4.0 0.0,4.0');
  });
});
