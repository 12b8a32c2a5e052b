import { render, screen } from '@testing-library/react';
import { describe, expect, it } from 'vitest';

import type { PointMark } from './Diagram';
import { WireLabels } from './Labels';
import type { Scene } from './scene';

const scene = (flat: boolean): Scene => ({
  width: 100,
  height: 50,
  scale: 1,
  wires: [{ id: 'W8', ends: ['C12.4f', 'C14.1m'], path: [] }],
  texts: [
    { role: 'number', own: 'W8', text: 'W8', x: 0, y: 10 },
    { role: 'about', own: 'W8', text: '1 VT/WH', x: 0, y: flat ? 10 : 20 },
  ],
  boxes: [],
  symbols: [],
  strokes: [],
  tags: [],
  points: [],
  places: [],
});

function shown(flat: boolean, marks: Record<string, PointMark>) {
  render(
    <svg role="img" aria-label="labels">
      <WireLabels scene={scene(flat)} marks={marks} />
    </svg>,
  );
  return [...screen.getByRole('img').querySelectorAll('text')].map((t) => t.textContent);
}

describe('a wire', () => {
  it('says its number, area and colour', () => expect(shown(false, {})).toEqual(['W8', '1 VT/WH']));

  it('has the readings at its ends in their place', () =>
    expect(shown(false, { 'C12.4f': { tag: '12.41' }, 'C14.1m': { tag: '0.00' } })).toEqual(['W812.41', '0.00']));

  it('has one figure where both are equal', () =>
    expect(shown(false, { 'C12.4f': { tag: '12.41' }, 'C14.1m': { tag: '12.41' } })).toEqual(['W812.41', '1 VT/WH']));

  it('keeps its colour while only the upper end was read', () =>
    expect(shown(false, { 'C12.4f': { tag: '12.41' } })).toEqual(['W812.41', '1 VT/WH']));

  it('has both in one line where it is short', () =>
    expect(shown(true, { 'C12.4f': { tag: '12.41' }, 'C14.1m': { tag: '0.00' } })).toEqual(['W812.410.00']));

  it('marks what differs from a healthy machine by more than colour', () => {
    shown(false, { 'C12.4f': { tag: '0.00', tells: true } });
    expect(screen.getByText('0.00')).toHaveAttribute('text-decoration', 'underline');
  });
});
