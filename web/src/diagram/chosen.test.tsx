import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { expect, it } from 'vitest';

import type { Drawing } from '../api/client';
import { ChosenPlace, Named, useChosen, useIsLit } from './chosen';

const drawing = {
  parts: [{ id: 'K3', terminals: [{ point: 'K3.86' }] }],
  cavities: [{ id: 'C12.4', male: 'C12.4m', female: 'C12.4f' }],
} as unknown as Drawing;

function Chip({ id }: { id: string }) {
  return <span data-testid={id}>{useIsLit(id) ? 'lit' : 'dark'}</span>;
}

function Said() {
  return <output>{useChosen().chosen ?? 'nothing'}</output>;
}

const page = () =>
  render(
    <ChosenPlace drawing={drawing}>
      <Named id="K3.86" />
      <Named id="C12.4f" />
      <Chip id="K3" />
      <Chip id="C12.4" />
      <Said />
    </ChosenPlace>,
  );

it('lights up wherever it is named, and the place that it belongs to with it', async () => {
  page();
  await userEvent.hover(screen.getByRole('button', { name: 'K3.86' }));
  expect(screen.getByTestId('K3')).toHaveTextContent('lit');
  expect(screen.getByTestId('C12.4')).toHaveTextContent('dark');
  await userEvent.unhover(screen.getByRole('button', { name: 'K3.86' }));
  expect(screen.getByTestId('K3')).toHaveTextContent('dark');
});

it('stays chosen while something else is pointed at', async () => {
  page();
  await userEvent.click(screen.getByRole('button', { name: 'C12.4f' }));
  await userEvent.hover(screen.getByRole('button', { name: 'K3.86' }));
  expect(screen.getByRole('status')).toHaveTextContent('C12.4f');
  expect(screen.getByTestId('C12.4')).toHaveTextContent('lit');
  expect(screen.getByTestId('K3')).toHaveTextContent('lit');
});

it('is of its own page', async () => {
  page();
  render(
    <ChosenPlace>
      <Chip id="K9" />
    </ChosenPlace>,
  );
  await userEvent.click(screen.getByRole('button', { name: 'C12.4f' }));
  expect(screen.getByTestId('K9')).toHaveTextContent('dark');
});
