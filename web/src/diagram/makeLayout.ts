// Where everything stands on the diagram. A layout library does the work in a worker: layers from
// feed to ground, orthogonal wires, terminals fixed on the upper and lower side of their part.
import type { ELK as Elk, ElkExtendedEdge, ElkNode, ElkPort } from 'elkjs/lib/elk-api';
import ELK from 'elkjs/lib/elk-api';
import workerUrl from 'elkjs/lib/elk-worker.min.js?url';

import type { Drawing } from '../api/client';
import type { Layout, Route } from './layout';

const GROUND = 'ground:';
const BAR_STEP = 26;

let elk: Elk | undefined;

/** Lays a drawing out. */
export async function layOut(drawing: Drawing): Promise<Layout> {
  elk ??= new ELK({ workerUrl });
  const graph = graphOf(drawing);
  return rounded(read(drawing, await elk.layout(graph)));
}

/** A tenth of a unit is finer than a line. */
function rounded(layout: Layout): Layout {
  return JSON.parse(
    JSON.stringify(layout, (_, v: unknown) => (typeof v === 'number' ? Math.round(v * 10) / 10 : v)),
  ) as Layout;
}

/** Steps from the battery's positive post, so that every wire is drawn from feed to ground. */
function depths(drawing: Drawing): Map<string, number> {
  const joined = new Map<string, string[]>();
  const join = (a: string, b: string) => {
    joined.set(a, [...(joined.get(a) ?? []), b]);
    joined.set(b, [...(joined.get(b) ?? []), a]);
  };
  drawing.wires.forEach((w) => join(w.from, w.to));
  drawing.cavities.forEach((c) => join(c.male, c.female));
  for (const part of drawing.parts.filter((p) => !p.is_source)) {
    for (const top of part.terminals.filter((t) => t.feed_side)) {
      part.terminals.filter((t) => !t.feed_side).forEach((t) => join(top.point, t.point));
    }
  }
  const start = drawing.parts.find((p) => p.is_source)?.terminals[0]?.point ?? '';
  const depth = new Map([[start, 0]]);
  const queue = [start];
  for (let at = queue.shift(); at !== undefined; at = queue.shift()) {
    for (const next of joined.get(at) ?? []) {
      if (!depth.has(next)) {
        depth.set(next, (depth.get(at) ?? 0) + 1);
        queue.push(next);
      }
    }
  }
  return depth;
}

function isStrap(drawing: Drawing, wire: Drawing['wires'][number]): boolean {
  const ground = (id: string) => drawing.grounds.some((g) => g.id === id) || id.startsWith('metal:');
  return ground(wire.from) && ground(wire.to);
}

function node(
  id: string,
  width: number,
  height: number,
  tops: string[],
  bottoms: string[],
  layer?: 'FIRST' | 'LAST',
): ElkNode {
  const port = (names: string[], side: 'NORTH' | 'SOUTH') =>
    names.map((name, n): ElkPort => ({
      id: name,
      x: (width * (n + 1)) / (names.length + 1),
      y: side === 'NORTH' ? 0 : height,
      width: 0,
      height: 0,
      layoutOptions: { 'elk.port.side': side },
    }));
  return {
    id,
    width,
    height,
    ports: [...port(tops, 'NORTH'), ...port(bottoms, 'SOUTH')],
    layoutOptions: {
      'elk.portConstraints': 'FIXED_POS',
      ...(layer ? { 'elk.layered.layering.layerConstraint': layer } : {}),
    },
  };
}

function graphOf(drawing: Drawing): ElkNode {
  const depth = depths(drawing);
  const at = (id: string) => depth.get(id) ?? 0;
  const children: ElkNode[] = [];
  const edges: ElkExtendedEdge[] = [];
  for (const part of drawing.parts) {
    let tops = part.terminals.filter((t) => t.feed_side).map((t) => t.point);
    let bottoms = part.terminals.filter((t) => !t.feed_side).map((t) => t.point);
    // A battery stands in the first layer and feeds downwards from both posts.
    if (part.is_source) [tops, bottoms] = [[], [...tops, ...bottoms]];
    const wide = Math.max(tops.length, bottoms.length);
    const words = part.name.length * 7.2 + `${part.id} · ${part.rating}`.length * 6 + 50;
    const width = part.is_fuse ? 34 : Math.max(words, 54 * wide + 20);
    children.push(node(part.id, width, part.is_fuse ? 28 : 42, tops, bottoms, part.is_source ? 'FIRST' : undefined));
    const caseOf = part.terminals.find((t) => t.is_case);
    if (part.mount && caseOf) {
      const id = `${GROUND}${part.id}.mount`;
      children.push(node(id, 30, 10, [`${id}.t`], [], 'LAST'));
      edges.push({ id: `mount:${part.id}`, sources: [caseOf.point], targets: [`${id}.t`] });
    }
  }
  for (const c of drawing.cavities) {
    const [top, bottom] = at(c.male) < at(c.female) ? [c.male, c.female] : [c.female, c.male];
    children.push(node(c.id, 16, 16, [top], [bottom]));
  }
  for (const s of drawing.splices) children.push({ id: s, width: 8, height: 8 });
  for (const g of drawing.grounds) {
    const wires = drawing.wires.filter((w) => w.from === g.id || w.to === g.id);
    if (wires.every((w) => isStrap(drawing, w))) continue;
    children.push(node(GROUND + g.id, 30, 10, [g.id], [], 'LAST'));
  }
  for (const w of drawing.wires.filter((w) => !isStrap(drawing, w))) {
    const grounded = drawing.grounds.some((g) => g.id === w.from);
    const down = grounded ? false : drawing.grounds.some((g) => g.id === w.to) || at(w.from) <= at(w.to);
    const [source, target] = down ? [w.from, w.to] : [w.to, w.from];
    edges.push({ id: w.id, sources: [source], targets: [target] });
  }
  return {
    id: 'root',
    layoutOptions: {
      'elk.algorithm': 'layered',
      'elk.direction': 'DOWN',
      'elk.edgeRouting': 'ORTHOGONAL',
      'elk.layered.nodePlacement.strategy': 'NETWORK_SIMPLEX',
      'elk.layered.considerModelOrder.strategy': 'PREFER_EDGES',
      'elk.spacing.nodeNode': '84',
      'elk.spacing.edgeNode': '52',
      'elk.spacing.edgeEdge': '54',
      'elk.layered.spacing.nodeNodeBetweenLayers': '26',
      'elk.layered.spacing.edgeNodeBetweenLayers': '11',
      'elk.layered.spacing.edgeEdgeBetweenLayers': '16',
    },
    children,
    edges,
  };
}

function read(drawing: Drawing, laid: ElkNode): Layout {
  const out: Layout = {
    width: laid.width ?? 0,
    height: laid.height ?? 0,
    boxes: {},
    points: {},
    routes: {},
    mounts: {},
    bars: {},
  };
  const bottom = Math.max(
    0,
    ...(laid.children ?? []).filter((n) => !n.id.startsWith(GROUND)).map((n) => (n.y ?? 0) + (n.height ?? 0)),
  );
  const groundY = Math.max(bottom + 26, out.height);
  const onMetal: Record<string, number[]> = {};
  for (const n of laid.children ?? []) {
    const box = { x: n.x ?? 0, y: n.y ?? 0, width: n.width ?? 0, height: n.height ?? 0 };
    out.boxes[n.id] = box;
    for (const p of n.ports ?? []) out.points[p.id] = { x: box.x + (p.x ?? 0), y: box.y + (p.y ?? 0) };
    if (drawing.splices.includes(n.id)) out.points[n.id] = { x: box.x + 4, y: box.y + 4 };
    if (n.id.startsWith(GROUND)) {
      const id = n.id.slice(GROUND.length);
      const part = drawing.parts.find((p) => `${p.id}.mount` === id);
      const metal = part?.mount ?? drawing.grounds.find((g) => g.id === id)?.metal ?? '';
      (onMetal[metal] ??= []).push(box.x + box.width / 2);
    }
  }
  for (const e of laid.edges ?? []) {
    const section = e.sections?.[0];
    if (!section) continue;
    const route = [section.startPoint, ...(section.bendPoints ?? []), section.endPoint].map((p) => ({ ...p }));
    if (e.id.startsWith('mount:')) out.mounts[e.id.slice(6)] = route;
    else out.routes[e.id] = route;
  }
  placeMetals(drawing, out, onMetal, groundY);
  return out;
}

/** Grounds go down to one line; each metal is a bar below it, and straps join the bars. */
function placeMetals(drawing: Drawing, out: Layout, onMetal: Record<string, number[]>, groundY: number) {
  drawing.metals.forEach((metal, n) => {
    const xs = onMetal[metal] ?? [out.width / 2];
    out.bars[metal] = { x1: Math.min(...xs) - 20, x2: Math.max(...xs) + 20, y: groundY + 16 + n * BAR_STEP };
  });
  const drop = (route: Route | undefined) => {
    const end = route?.at(-1);
    if (end) end.y = groundY;
  };
  for (const g of drawing.grounds) {
    const wires = drawing.wires.filter((w) => (w.from === g.id || w.to === g.id) && !isStrap(drawing, w));
    wires.forEach((w) => drop(out.routes[w.id]));
    const point = out.points[g.id];
    if (point) point.y = groundY;
  }
  Object.values(out.mounts).forEach(drop);
  let right = Math.max(...Object.values(out.bars).map((b) => b.x2), 0);
  for (const w of drawing.wires.filter((w) => isStrap(drawing, w))) {
    const metalOf = (id: string) => drawing.grounds.find((g) => g.id === id)?.metal ?? id.replace('metal:', '');
    const [from, to] = [out.bars[metalOf(w.from)], out.bars[metalOf(w.to)]];
    if (!from || !to) continue;
    right += 64;
    const ends = [
      { id: w.from, bar: from, x: right },
      { id: w.to, bar: to, x: right + 70 },
    ];
    for (const { id, bar, x } of ends) {
      bar.x2 = Math.max(bar.x2, x + 14);
      out.points[id] = { x, y: groundY };
    }
    const top = groundY - 22;
    out.routes[w.id] = [
      { x: right, y: groundY },
      { x: right, y: top },
      { x: right + 70, y: top },
      { x: right + 70, y: groundY },
    ];
    right += 84;
  }
  for (const metal of drawing.metals) {
    const bar = out.bars[metal];
    if (bar) {
      bar.x2 += 26;
      out.points[`metal:${metal}`] = { x: bar.x2 - 8, y: bar.y };
      out.width = Math.max(out.width, bar.x2 + 46);
    }
  }
  out.height = groundY + 16 + drawing.metals.length * BAR_STEP;
}
