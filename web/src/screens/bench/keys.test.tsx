import { fireEvent, render, screen } from '@testing-library/react';
import { MemoryRouter } from 'react-router';
import { describe, expect, it, vi } from 'vitest';

import { KeyList } from './KeyList';
import { around, BINDINGS, useKeys, type Doings } from './keys';

const NAMES: (keyof Doings)[] = [
  'focus',
  'nextFunction',
  'turnKey',
  'nextLever',
  'tryComplaint',
  'nextPath',
  'toggleScope',
  'faces',
  'ask',
  'binder',
  'name',
  'repair',
  'giveBack',
  'handIn',
  'hint',
  'answer',
  'help',
  'judge',
  'chooseReading',
];

function Bench({ doings, enabled = true }: { doings: Doings; enabled?: boolean }) {
  useKeys(doings, enabled);
  return <input aria-label="field" />;
}

const spies = () =>
  Object.fromEntries(NAMES.map((n) => [n, vi.fn()])) as unknown as Doings & Record<string, ReturnType<typeof vi.fn>>;

describe('the table of keys', () => {
  it('binds no key twice', () => {
    const keys = BINDINGS.flatMap((b) => b.keys);
    expect(new Set(keys).size).toBe(keys.length);
  });

  it('reaches everything that the bench can do', () => {
    const doings = spies();
    render(<Bench doings={doings} />);
    for (const key of BINDINGS.flatMap((b) => b.keys)) fireEvent.keyDown(window, { key });
    for (const name of NAMES) expect(doings[name], name).toHaveBeenCalled();
  });

  it('leaves the arrows to whoever chooses among several', () => {
    const doings = spies();
    render(
      <>
        <Bench doings={doings} />
        <input type="radio" aria-label="one" />
      </>,
    );
    fireEvent.keyDown(screen.getByRole('radio'), { key: 'ArrowDown' });
    expect(doings.chooseReading).not.toHaveBeenCalled();
    fireEvent.keyDown(screen.getByRole('radio'), { key: 'k' });
    expect(doings.turnKey).toHaveBeenCalled();
  });

  it('is what the list shows, line for line', () => {
    render(<KeyList open onClose={() => {}} />, { wrapper: MemoryRouter });
    for (const { about } of BINDINGS) expect(screen.getByText(about)).toBeInTheDocument();
  });
});

describe('a key', () => {
  it('moves the second lever with Shift', () => {
    const doings = spies();
    render(<Bench doings={doings} />);
    fireEvent.keyDown(window, { key: 'L', shiftKey: true });
    fireEvent.keyDown(window, { key: 'l' });
    expect(vi.mocked(doings.nextLever).mock.calls).toEqual([[1], [0]]);
  });

  it('turns the key switch back with Shift', () => {
    const doings = spies();
    render(<Bench doings={doings} />);
    fireEvent.keyDown(window, { key: 'K', shiftKey: true });
    fireEvent.keyDown(window, { key: 'k' });
    expect(vi.mocked(doings.turnKey).mock.calls).toEqual([[-1], [1]]);
  });

  it('does nothing while one types', () => {
    const doings = spies();
    render(<Bench doings={doings} />);
    fireEvent.keyDown(screen.getByLabelText('field'), { key: 'h' });
    expect(doings.handIn).not.toHaveBeenCalled();
  });

  it('does nothing with Ctrl, or when the bench is closed', () => {
    const doings = spies();
    const { rerender } = render(<Bench doings={doings} />);
    fireEvent.keyDown(window, { key: 'n', ctrlKey: true });
    rerender(<Bench doings={doings} enabled={false} />);
    fireEvent.keyDown(window, { key: 'n' });
    expect(doings.name).not.toHaveBeenCalled();
  });
});

describe('going round', () => {
  it('comes back to the first', () => expect(around(['a', 'b'], 1, 1)).toBe('a'));
  it('goes back over the end', () => expect(around(['a', 'b'], 0, -1)).toBe('b'));
  it('goes nowhere where there is nothing', () => expect(around([], 0, 1)).toBeUndefined());
});
