// Where everything stands on the diagram, and moving things from there.
import type { Drawing, Schemas } from '../api/client';

export type Layout = Schemas['Layout'];
export type Spot = Schemas['Spot'];
export type Box = Schemas['LayoutBox'];
export type Route = Spot[];

/** The layout with what an instructor moved: boxes go with their test points, and wires follow. */
export function moved(drawing: Drawing, layout: Layout): Layout {
  const moves = Object.entries(drawing.layout);
  if (moves.length === 0) return layout;
  const out = structuredClone(layout);
  const by = new Map<string, readonly [number, number]>();
  for (const [id, shift] of moves) {
    const [dx = 0, dy = 0] = shift;
    const box = out.boxes[id];
    if (!box) continue;
    box.x += dx;
    box.y += dy;
    for (const point of pointsOf(drawing, id)) {
      by.set(point, [dx, dy]);
      const spot = out.points[point];
      if (spot) Object.assign(spot, { x: spot.x + dx, y: spot.y + dy });
    }
  }
  for (const wire of drawing.wires) {
    const route = out.routes[wire.id];
    if (!route) continue;
    const [first, last] = ends(layout, wire, route);
    out.routes[wire.id] = follow(route, by.get(first), by.get(last));
  }
  for (const [part, route] of Object.entries(out.mounts)) {
    const shift = out.boxes[part] && drawing.layout[part];
    if (shift) out.mounts[part] = follow(route, [shift[0] ?? 0, shift[1] ?? 0], undefined);
  }
  for (const box of Object.values(out.boxes)) {
    out.width = Math.max(out.width, box.x + box.width);
    out.height = Math.max(out.height, box.y + box.height);
  }
  return out;
}

/** The test points that move with a box. */
function pointsOf(drawing: Drawing, id: string): string[] {
  const part = drawing.parts.find((p) => p.id === id);
  const cavity = drawing.cavities.find((c) => c.id === id);
  if (part) return part.terminals.map((t) => t.point);
  if (cavity) return [cavity.male, cavity.female];
  return drawing.splices.includes(id) ? [id] : [];
}

/** A route is drawn from feed to ground, whichever way its wire is written. */
function ends(layout: Layout, wire: Drawing['wires'][number], route: Route): [string, string] {
  const [from, start] = [layout.points[wire.from], route[0]];
  const near = from && start && Math.abs(from.x - start.x) + Math.abs(from.y - start.y) < 6;
  return near ? [wire.from, wire.to] : [wire.to, wire.from];
}

/** A route whose ends have moved: right angles stay right. */
function follow(route: Route, first?: readonly [number, number], last?: readonly [number, number]): Route {
  if (!first && !last) return route;
  let out = route.map((p) => ({ ...p }));
  if (out.length === 2) {
    const [a, b] = out as [Spot, Spot];
    const middle = (a.y + b.y) / 2;
    out = [a, { x: a.x, y: middle }, { x: b.x, y: middle }, b];
  }
  const shift = (at: number, next: number, [dx, dy]: readonly [number, number]) => {
    const [end, bend] = [out[at], out[next]];
    if (!end || !bend) return;
    const vertical = Math.abs(end.x - bend.x) < 1;
    Object.assign(end, { x: end.x + dx, y: end.y + dy });
    if (vertical) bend.x += dx;
    else bend.y += dy;
  };
  if (first) shift(0, 1, first);
  if (last) shift(out.length - 1, out.length - 2, last);
  return out;
}
