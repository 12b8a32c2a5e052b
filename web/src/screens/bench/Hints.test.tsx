import { render, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it, vi } from 'vitest';

import type { Action } from '../../api/client';
import { bench } from '../../test/attempt';
import { Hints } from './Hints';
import { isClaim } from './useCorrections';

const wrong = (step: number) => ({ step, text: `Wrong at ${step}.` });

describe('practice', () => {
  it('says the last three things that were wrong, the latest first', () => {
    render(<Hints view={bench()} busy={false} onAsk={() => {}} wrong={[2, 5, 7, 9].map(wrong)} />);
    const list = screen.getByRole('status', { name: 'What was wrong' });
    const texts = within(list)
      .getAllByRole('listitem')
      .map((item) => item.textContent);
    expect(texts).toEqual(['9 Wrong at 9.', '7 Wrong at 7.', '5 Wrong at 5.']);
  });

  it('gives no hint once it is handed in', async () => {
    const ask = vi.fn();
    render(<Hints view={bench({ handed_in: true })} busy={false} onAsk={ask} wrong={[]} />);
    await userEvent.click(screen.getByRole('button'));
    expect(ask).not.toHaveBeenCalled();
  });

  it('looks again after a claim and not after a reading', () => {
    const claims = [
      { do: 'judge', step: 1, verdict: 'normal' },
      { do: 'clear', places: [] },
      { do: 'suspect', places: [] },
    ] as const;
    expect(claims.every((claim) => isClaim(claim as Action))).toBe(true);
    expect(isClaim({ do: 'try_complaint' })).toBe(false);
  });
});
