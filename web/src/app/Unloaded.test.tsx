import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { MemoryRouter } from 'react-router';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';

import { Loaded } from './Unloaded';

function Cut(): never {
  throw new Error('Failed to fetch dynamically imported module');
}

describe('a screen whose code cannot be had', () => {
  beforeEach(() => {
    // React tells the console of what a boundary catches.
    vi.spyOn(console, 'error').mockImplementation(() => undefined);
  });
  afterEach(() => vi.restoreAllMocks());

  const page = (at: string, broken: boolean) => (
    <MemoryRouter>
      <Loaded at={at}>{broken ? <Cut /> : <p>The bench</p>}</Loaded>
    </MemoryRouter>
  );

  it('says so instead of leaving nothing, and that it comes by itself', () => {
    render(page('/attempts/1', true));
    expect(screen.getByRole('heading', { name: 'This page could not be loaded' })).toBeInTheDocument();
    expect(screen.getByRole('status')).toHaveTextContent(/comes by itself/);
  });

  it('is tried again, and stays while nobody answers', async () => {
    vi.spyOn(globalThis, 'fetch').mockRejectedValue(new TypeError('offline'));
    render(page('/attempts/1', true));
    await userEvent.click(screen.getByRole('button', { name: 'Try again' }));
    expect(await screen.findByText(/tried once/)).toBeInTheDocument();
  });

  it('does not stand in the way of another one', () => {
    const { rerender } = render(page('/attempts/1', true));
    rerender(page('/attempts', false));
    expect(screen.getByText('The bench')).toBeInTheDocument();
  });
});
