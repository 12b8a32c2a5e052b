// Changes to a circuit that are made by hand: what is placed, wired, put into a wire, taken out.
import type { CircuitDoc, KindItem, WireDoc } from '../../api/client';

/** The first free id with some letters: there is mostly one battery, and it needs no number. */
export function nextId(letters: string, have: readonly string[]): string {
  if (letters === 'BAT' && !have.includes('BAT')) return 'BAT';
  for (let n = 1; ; n++) if (!have.includes(`${letters}${n}`)) return `${letters}${n}`;
}

const SOME: Record<string, { letters: string; put: (doc: CircuitDoc, id: string) => CircuitDoc }> = {
  connector: {
    letters: 'C',
    put: (doc, id) => ({ ...doc, connectors: { ...doc.connectors, [id]: { cavities: 2 } } }),
  },
  splice: { letters: 'SP', put: (doc, id) => ({ ...doc, splices: { ...doc.splices, [id]: {} } }) },
  ground: { letters: 'G', put: (doc, id) => ({ ...doc, grounds: { ...doc.grounds, [id]: { metal: 'body' } } }) },
};

/** Places a part of a kind, or a connector, a splice, a ground; with its id. */
export function place(doc: CircuitDoc, what: string, kinds: readonly KindItem[]): [CircuitDoc, string] {
  const ids = [doc.parts, doc.connectors, doc.splices, doc.grounds].flatMap((all) => Object.keys(all ?? {}));
  const other = SOME[what];
  if (other) {
    const id = nextId(other.letters, ids);
    return [other.put(doc, id), id];
  }
  const id = nextId(kinds.find((k) => k.kind === what)?.letters ?? 'X', ids);
  return [{ ...doc, parts: { ...doc.parts, [id]: { kind: what } } }, id];
}

/** A wire between two points, as thick and as long as the last one. */
export function wire(doc: CircuitDoc, from: string, to: string): CircuitDoc {
  const wires = doc.wires ?? [];
  const last = wires.at(-1);
  const like = last
    ? { area_mm2: last.area_mm2, awg: last.awg, length_m: last.length_m }
    : { area_mm2: 1, length_m: 1 };
  return { ...doc, wires: [...wires, { id: nextId('W', ids(wires)), from, to, ...like }] };
}

const ids = (wires: readonly WireDoc[]) => wires.map((w) => w.id);

/** What can be put into a wire: whatever has two terminals, a connector, a splice. */
export function goesIntoWires(kinds: readonly KindItem[]): { what: string; title: string }[] {
  const parts = kinds.filter((k) => k.terminals.length === 2 && k.kind !== 'battery');
  return [
    { what: 'connector', title: 'connector' },
    { what: 'splice', title: 'splice' },
    ...parts.map((k) => ({ what: k.kind, title: k.title })),
  ];
}

/** Puts something into a wire: the wire keeps its first end, a new one goes on to the second. */
export function putInto(doc: CircuitDoc, id: string, what: string, kinds: readonly KindItem[]): CircuitDoc {
  const wires = doc.wires ?? [];
  const old = wires.find((w) => w.id === id);
  if (!old) return doc;
  const [placed, thing] = place(doc, what, kinds);
  const [a, b] = kinds.find((k) => k.kind === what)?.terminals ?? [];
  const ends =
    what === 'connector'
      ? [`${thing}.1m`, `${thing}.1f`]
      : what === 'splice'
        ? [thing, thing]
        : [`${thing}.${a ?? '1'}`, `${thing}.${b ?? '2'}`];
  const half = typeof old.length_m === 'number' ? { length_m: old.length_m / 2 } : {};
  const [into = '', out = ''] = ends;
  const first = { ...old, ...half, to: into };
  const second = { ...old, ...half, id: nextId('W', ids(wires)), from: out };
  return { ...placed, wires: wires.flatMap((w) => (w.id === id ? [first, second] : [w])) };
}

/** Puts one connector into several wires, a cavity for each in their order. */
export function connectorAcross(doc: CircuitDoc, framed: readonly string[], kinds: readonly KindItem[]): CircuitDoc {
  const wires = doc.wires ?? [];
  const crossed = wires.filter((w) => framed.includes(w.id));
  if (crossed.length === 0) return doc;
  const [placed, id] = place(doc, 'connector', kinds);
  const known = ids(wires);
  const split = wires.flatMap((w) => {
    const cavity = crossed.indexOf(w) + 1;
    if (cavity === 0) return [w];
    const half = typeof w.length_m === 'number' ? { length_m: w.length_m / 2 } : {};
    const fresh = nextId('W', known);
    known.push(fresh);
    return [
      { ...w, ...half, to: `${id}.${cavity}m` },
      { ...w, ...half, id: fresh, from: `${id}.${cavity}f` },
    ];
  });
  return { ...placed, connectors: { ...placed.connectors, [id]: { cavities: crossed.length } }, wires: split };
}

const without = <T>(all: Record<string, T> | undefined, id: string) =>
  Object.fromEntries(Object.entries(all ?? {}).filter(([k]) => k !== id));

/** Takes a wire out, or a part, connector, splice or ground with the wires that go there. */
export function takeOut(doc: CircuitDoc, id: string): CircuitDoc {
  const wires = doc.wires ?? [];
  if (wires.some((w) => w.id === id)) return { ...doc, wires: wires.filter((w) => w.id !== id) };
  const goes = (end: string) => end === id || end.startsWith(`${id}.`);
  return {
    ...doc,
    parts: without(doc.parts, id),
    connectors: without(doc.connectors, id),
    splices: without(doc.splices, id),
    grounds: without(doc.grounds, id),
    wires: wires.filter((w) => !goes(w.from) && !goes(w.to)),
  };
}
