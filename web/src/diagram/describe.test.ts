import { expect, it } from 'vitest';

import type { Drawing } from '../api/client';
import { colourWords } from './colours';
import { describe } from './describe';

const drawing = {
  parts: [{ id: 'K3', name: 'Start relay', rating: '', mount: null, terminals: [] }],
  wires: [{ id: 'W8', from: 'C12.4f', to: 'C14.1m', color: 'VT/WH', label: '1 VT/WH' }],
  cavities: [{ id: 'C12.4', connector: 'C12', male: 'C12.4m', female: 'C12.4f' }],
  connectors: [{ id: 'C12', cavities: 6, place: 'bulkhead, left' }],
  grounds: [{ id: 'G4', metal: 'body', place: null }],
  splices: ['SP1'],
  points: [{ id: 'C12.4f', about: 'back of cavity, female side', reach_minutes: 2 }],
} as unknown as Drawing;

it('says what a place is in a line', () => {
  expect(describe(drawing, 'W8')).toBe('W8 · 1 mm² violet with white · C12.4f to C14.1m');
  expect(describe(drawing, 'K3')).toBe('K3 · Start relay');
  expect(describe(drawing, 'C12.4')).toBe('C12.4 · cavity of C12 · bulkhead, left');
  expect(describe(drawing, 'G4')).toBe('G4 · ground on the body');
  expect(describe(drawing, 'C12.4f')).toBe('C12.4f · back of cavity, female side');
  expect(describe(drawing, 'SP1')).toBe('SP1 · splice');
  expect(describe(drawing, 'X9')).toBeUndefined();
});

it('tells nothing of a wire that the papers withhold', () => {
  const withheld = { ...drawing, wires: [{ id: 'W8', from: '', to: '', color: 'VT', label: 'AWG 18 VT' }] };
  expect(describe(withheld as unknown as Drawing, 'W8')).toBe('W8 · AWG 18 violet');
});

it('says a colour in words', () => {
  expect(colourWords('GN')).toBe('green');
  expect(colourWords(null)).toBe('');
});
