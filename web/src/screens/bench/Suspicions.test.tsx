import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState } from 'react';
import { describe, expect, it, vi } from 'vitest';

import type { Action } from '../../api/client';
import { attempt, bench } from '../../test/attempt';
import { Suspicions } from './Suspicions';

function Held({ act, of = attempt() }: { act: (a: Action) => Promise<unknown>; of?: ReturnType<typeof attempt> }) {
  const [chosen, setChosen] = useState<string[]>([]);
  return <Suspicions attempt={of} path={0} chosen={chosen} onChoose={setChosen} act={act} />;
}

describe('a chip', () => {
  it('claims nothing by itself: it chooses its place, and lets go of it again', async () => {
    const act = vi.fn(() => Promise.resolve({}));
    render(<Held act={act} />);
    const chip = screen.getByRole('button', { name: 'W1' });
    await userEvent.click(chip);
    expect(chip).toHaveAttribute('aria-pressed', 'true');
    await userEvent.click(chip);
    expect(chip).toHaveAttribute('aria-pressed', 'false');
    expect(act).not.toHaveBeenCalled();
  });

  it('is held suspect as easily as it is ruled out', async () => {
    const act = vi.fn(() => Promise.resolve({}));
    render(<Held act={act} />);
    await userEvent.click(screen.getByRole('button', { name: 'W2' }));
    await userEvent.click(screen.getByRole('button', { name: 'Suspect' }));
    expect(act).toHaveBeenLastCalledWith({ do: 'suspect', places: ['W2'] });
    await userEvent.click(screen.getByRole('button', { name: 'W1' }));
    await userEvent.click(screen.getByRole('button', { name: 'C1.1' }));
    await userEvent.click(screen.getByRole('button', { name: 'Rule out' }));
    expect(act).toHaveBeenLastCalledWith({ do: 'clear', places: ['W1', 'C1.1'] });
  });

  it('stays chosen when the server did not take the claim', async () => {
    render(<Held act={() => Promise.resolve(undefined)} />);
    await userEvent.click(screen.getByRole('button', { name: 'W1' }));
    await userEvent.click(screen.getByRole('button', { name: 'Rule out' }));
    expect(screen.getByRole('button', { name: 'W1' })).toHaveAttribute('aria-pressed', 'true');
  });

  it('says how its place is held', () => {
    render(
      <Held act={() => Promise.resolve()} of={attempt({ bench: bench({ cleared: ['W1'], suspected: ['W2'] }) })} />,
    );
    expect(screen.getByText(/1 ruled out · 1 suspect/)).toBeInTheDocument();
    expect(screen.getByRole('button', { name: 'W1' })).toHaveClass('cleared');
    expect(screen.getByRole('button', { name: 'W2' })).toHaveClass('suspect');
  });
});

describe('without a path', () => {
  it('has no chips and can still be told places by name', () => {
    render(<Held act={() => Promise.resolve()} of={attempt({ paths: [] })} />);
    expect(screen.queryByRole('button', { name: 'W1' })).toBeNull();
    expect(screen.getByRole('combobox', { name: 'Places to rule out or suspect' })).toBeEnabled();
  });
});
