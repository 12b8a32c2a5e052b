import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, describe, expect, it, vi } from 'vitest';

import { AskedRows } from './AskedRows';

describe('what a test sheet is of', () => {
  beforeEach(() => document.body.replaceChildren());

  it('leaves a place out, and never the last', async () => {
    const onChange = vi.fn();
    const survey = { kind: 'survey' as const, state: {}, of: ['W1', 'G1'] } as never;
    const { rerender } = render(<AskedRows task={survey} onChange={onChange} />);
    await userEvent.click(screen.getByRole('button', { name: 'Leave out: W1' }));
    expect(onChange).toHaveBeenCalledWith({ kind: 'survey', state: {}, of: ['G1'] });
    rerender(<AskedRows task={{ kind: 'check_sheet', harnesses: ['engine'] }} onChange={onChange} />);
    expect(screen.getByRole('button', { name: 'Leave out: engine' })).toBeDisabled();
    rerender(<AskedRows task={{ kind: 'identify', connector: 'X2', half: 'm' }} onChange={onChange} />);
    expect(screen.getByText(/the leads of X2/)).toBeInTheDocument();
  });
});
