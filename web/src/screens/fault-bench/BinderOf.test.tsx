import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState } from 'react';
import { describe, expect, it, vi } from 'vitest';

import { served } from '../../test/served';
import { BinderOf, type NewBinder } from './BinderOf';

function Making({ heard }: { heard: (binder?: NewBinder) => void }) {
  const [binder, setBinder] = useState<NewBinder>();
  return (
    <BinderOf
      circuit={1}
      binder={binder}
      onChange={(b) => {
        setBinder(b);
        heard(b);
      }}
    />
  );
}

describe('a lesson’s binder', () => {
  it('holds other circuits, and a connector of another variant', async () => {
    const heard = vi.fn();
    served(<Making heard={heard} />, {
      '/api/circuits': [
        { id: 1, title: 'Tug, starting', put_away: false },
        { id: 2, title: 'Tug, charging', put_away: false },
        { id: 3, title: 'Old', put_away: true },
      ],
      '/api/circuits/{id}/binder': { variants: ['C12'] },
    });
    await userEvent.click(screen.getByText('The machine’s papers as a binder'));
    await userEvent.click(await screen.findByRole('checkbox'));
    expect(heard).toHaveBeenLastCalledWith({});
    await userEvent.click(screen.getByLabelText('Other circuits of the machine in it'));
    await userEvent.click(await screen.findByTitle('Tug, charging'));
    expect(screen.queryByTitle('Old')).toBeNull();
    expect(screen.queryByTitle('Tug, starting')).toBeNull();
    expect(heard).toHaveBeenLastCalledWith({ others: [2] });
    await userEvent.click(screen.getByLabelText(/another variant’s on its sheet/));
    await userEvent.click(await screen.findByTitle('C12'));
    expect(heard).toHaveBeenLastCalledWith({ others: [2], variant: 'C12' });
    await userEvent.click(screen.getByRole('checkbox'));
    expect(heard).toHaveBeenLastCalledWith(undefined);
  });
});
