import { screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { createRef, useState } from 'react';
import { describe, expect, it } from 'vitest';

import type { CircuitDoc, KindItem } from '../../api/client';
import { served } from '../../test/served';
import { aboutOf } from './Parts';
import { Shelf, shelves } from './Shelf';

const KINDS = [
  { kind: 'battery', letters: 'BAT', shelf: 'Supply', terminals: ['+', '-'], title: 'Battery', params: [] },
  { kind: 'fuse', letters: 'F', shelf: 'Protection', terminals: ['1', '2'], title: 'Fuse', params: [] },
  { kind: 'fusible_link', letters: 'F', shelf: 'Protection', terminals: ['1', '2'], title: 'Link', params: [] },
] satisfies KindItem[];

const EMPTY = { format: 'cimento/circuit', version: 1, title: 'New', system_v: 12 } as unknown as CircuitDoc;

function Workshop() {
  const [doc, setDoc] = useState(EMPTY);
  const field = createRef<never>();
  return (
    <>
      <Shelf field={field} kinds={KINDS} change={setDoc} />
      <output>{Object.keys({ ...doc.parts, ...doc.splices }).join(' ')}</output>
    </>
  );
}

describe('the shelf', () => {
  it('keeps the order of the shelves, joints first', () => {
    expect(shelves(KINDS).map(([title, things]) => [title, things.length])).toEqual([
      ['Connectors, splices, grounds', 3],
      ['Supply', 1],
      ['Protection', 2],
    ]);
  });

  it('places what its picture is pressed, as often as it is pressed', async () => {
    served(<Workshop />, {});
    await userEvent.click(screen.getByRole('button', { name: 'Pictures' }));
    const fuses = await screen.findByRole('region', { name: 'Protection' });
    await userEvent.click(within(fuses).getByRole('button', { name: 'Fuse' }));
    await userEvent.click(within(fuses).getByRole('button', { name: 'Fuse' }));
    await userEvent.click(screen.getByRole('button', { name: 'Splice' }));
    expect(screen.getByRole('status')).toHaveTextContent('F1 F2 SP1');
  });
});

it('says of a parameter what it does, usually is and may be', () => {
  const rated = { name: 'rated_a', about: 'what it carries for ever', unit: 'A', default: 20, range: [1, 500] };
  expect(aboutOf(rated)).toBe('what it carries for ever · usually 20 A · 1 to 500 A');
  expect(aboutOf({ name: 'table', about: 'its own' })).toBe('its own');
});
