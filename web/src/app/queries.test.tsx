import { onlineManager, QueryClientProvider, useMutation } from '@tanstack/react-query';
import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, describe, expect, it } from 'vitest';

import { ApiError, ask } from '../api/client';
import { newQueries } from './queries';

function Take() {
  const take = useMutation({ mutationFn: () => ask(Promise.reject(new TypeError('Failed to fetch'))) });
  return (
    <>
      <button type="button" onClick={() => take.mutate()}>
        Take
      </button>
      {take.isPending && <p>Waiting …</p>}
      {take.error instanceof ApiError && <p role="alert">{take.error.message}</p>}
    </>
  );
}

describe('one who is cut off', () => {
  afterEach(() => onlineManager.setOnline(true));

  it('is told so at once', async () => {
    onlineManager.setOnline(false);
    render(
      <QueryClientProvider client={newQueries()}>
        <Take />
      </QueryClientProvider>,
    );
    await userEvent.click(screen.getByRole('button'));
    expect(await screen.findByRole('alert')).toHaveTextContent('The server cannot be reached.');
    expect(screen.queryByText('Waiting …')).toBeNull();
  });
});
