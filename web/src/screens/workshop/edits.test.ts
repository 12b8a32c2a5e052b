import { expect, it } from 'vitest';

import type { CircuitDoc, KindItem } from '../../api/client';
import { connectorAcross, goesIntoWires, nextId, place, putInto, takeOut, wire } from './edits';

const kinds = [
  { kind: 'battery', shelf: 'Supply', letters: 'BAT', terminals: ['+', '-'], title: 'battery', params: [] },
  { kind: 'fuse', shelf: 'Protection', letters: 'F', terminals: ['1', '2'], title: 'fuse', params: [] },
  { kind: 'relay', shelf: 'Switches', letters: 'K', terminals: ['30', '87', '86', '85'], title: 'relay', params: [] },
] satisfies KindItem[];

const doc = {
  format: 'cimento/circuit',
  version: 1,
  title: 'A lamp',
  system_v: 12,
  parts: { BAT: { kind: 'battery' }, F1: { kind: 'fuse' } },
  wires: [{ id: 'W1', from: 'BAT.+', to: 'F1.1', area_mm2: 2.5, length_m: 3, color: 'RD' }],
} as unknown as CircuitDoc;

it('counts ids on, and gives the first battery none', () => {
  expect(nextId('F', ['F1', 'F3'])).toBe('F2');
  expect(nextId('BAT', [])).toBe('BAT');
  expect(place(doc, 'fuse', kinds)[1]).toBe('F2');
  expect(place(doc, 'ground', kinds)[0].grounds).toEqual({ G1: { metal: 'body' } });
});

it('wires two points as the last wire was', () => {
  expect(wire(doc, 'F1.2', 'G1').wires?.at(-1)).toEqual({
    id: 'W2',
    from: 'F1.2',
    to: 'G1',
    area_mm2: 2.5,
    awg: undefined,
    length_m: 3,
  });
});

it('puts a part, a connector or a splice into a wire, and keeps its length in all', () => {
  const fused = putInto(doc, 'W1', 'fuse', kinds);
  expect(fused.parts?.F2).toEqual({ kind: 'fuse' });
  expect(fused.wires?.map((w) => [w.id, w.from, w.to, w.length_m])).toEqual([
    ['W1', 'BAT.+', 'F2.1', 1.5],
    ['W2', 'F2.2', 'F1.1', 1.5],
  ]);
  expect(putInto(doc, 'W1', 'connector', kinds).wires?.map((w) => w.to)).toEqual(['C1.1m', 'F1.1']);
  expect(putInto(doc, 'W1', 'splice', kinds).wires?.map((w) => w.from)).toEqual(['BAT.+', 'SP1']);
  expect(putInto(doc, 'W9', 'fuse', kinds)).toBe(doc);
  expect(goesIntoWires(kinds).map((k) => k.what)).toEqual(['connector', 'splice', 'fuse']);
});

it('puts one connector into several wires, a cavity for each', () => {
  const second = { id: 'W2', from: 'F1.2', to: 'G1', area_mm2: 1, length_m: 2 };
  const two = { ...doc, wires: [...(doc.wires ?? []), second] } as CircuitDoc;
  const joined = connectorAcross(two, ['W2', 'W1', 'F1'], kinds);
  expect(joined.connectors).toEqual({ C1: { cavities: 2 } });
  expect(joined.wires?.map((w) => [w.id, w.from, w.to, w.length_m])).toEqual([
    ['W1', 'BAT.+', 'C1.1m', 1.5],
    ['W3', 'C1.1f', 'F1.1', 1.5],
    ['W2', 'F1.2', 'C1.2m', 1],
    ['W4', 'C1.2f', 'G1', 1],
  ]);
  expect(connectorAcross(two, ['F1'], kinds)).toBe(two);
});

it('takes a thing out with its wires', () => {
  expect(takeOut(doc, 'F1')).toMatchObject({ parts: { BAT: { kind: 'battery' } }, wires: [] });
  expect(takeOut(doc, 'W1').wires).toEqual([]);
  // F1 is not F11.
  const more = { ...doc, wires: [{ id: 'W1', from: 'F11.1', to: 'F1.1' }] } as unknown as CircuitDoc;
  expect(takeOut(more, 'F11').wires).toEqual([]);
  expect(takeOut({ ...more, wires: [{ id: 'W1', from: 'F11.1', to: 'G1' }] }, 'F1').wires).toHaveLength(1);
});
