import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, describe, expect, it, vi } from 'vitest';

import { served } from '../../test/served';
import { Retention } from './Retention';

describe('how long work is kept', () => {
  afterEach(() => vi.restoreAllMocks());

  it.each([
    ['18', 18],
    ['', null],
  ])('is “%s” months, and marks stay if the school says so', async (typed, months) => {
    const sent = served(<Retention />, { '/api/school/retention': { months: 24, keeps_figures: false } });
    const button = screen.getByRole('button', { name: 'How long work is kept' });
    await vi.waitFor(() => expect(button).toBeEnabled());
    await userEvent.click(button);
    const field = await screen.findByRole('spinbutton');
    expect(field).toHaveValue('24');
    await userEvent.clear(field);
    if (typed) await userEvent.type(field, typed);
    await userEvent.click(screen.getByRole('checkbox'));
    await userEvent.click(screen.getByRole('button', { name: 'Save' }));
    await vi.waitFor(() => expect(sent[0]?.body).toEqual({ months, keeps_figures: true }));
  });
});
