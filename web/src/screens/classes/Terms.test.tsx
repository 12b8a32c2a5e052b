import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it, vi } from 'vitest';

import { inWords, Terms, USUAL } from './Terms';

describe('terms', () => {
  it('stand in words', () => {
    expect(inWords(USUAL, false)).toBe('marks show when everybody has handed in, or it closes');
    const due = new Date(2027, 2, 5, 14, 30).getTime() / 1000;
    const words = inWords({ ...USUAL, due_at: due, attempts: 3, counts: 'mean', sheets: 'released' }, true);
    expect(words).toMatch(/^due .*2027.* · 3 attempts, their mean counts · marks released$/);
  });

  it('ask which of several attempts counts, and only of several', async () => {
    const change = vi.fn();
    const { rerender } = render(<Terms terms={USUAL} onChange={change} />);
    expect(screen.queryByText('Of which counts')).not.toBeInTheDocument();
    const attempts = screen.getByLabelText('Attempts');
    await userEvent.clear(attempts);
    await userEvent.type(attempts, '3');
    expect(change).toHaveBeenLastCalledWith({ ...USUAL, attempts: 3 });
    rerender(<Terms terms={{ ...USUAL, attempts: 3 }} onChange={change} />);
    expect(screen.getByText('Of which counts')).toBeInTheDocument();
  });
});
