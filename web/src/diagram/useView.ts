// Which part of a diagram is in view: the whole of it, or as far as one has zoomed and moved.
import { useCallback, useRef, useState, type PointerEvent, type WheelEvent } from 'react';

export type View = { x: number; y: number; width: number; height: number };

/** How far in one can go. */
const CLOSEST = 8;
/** A diagram that is larger than its window by less than this is all in view. */
const SLACK = 1.06;
/** A press that moves less than this is a click, in pixels. */
const STILL = 4;

/** A view of `whole`; it begins at the upper left with what a window of some size holds, where that is not all of it. */
export function useView(whole: View, window: { width: number; height: number }) {
  const [view, setView] = useState<View | null>(() =>
    whole.width > window.width * SLACK || whole.height > window.height * SLACK ? { x: 0, y: 0, ...window } : null,
  );
  const svg = useRef<SVGSVGElement>(null);
  const drag = useRef<{ x: number; y: number; from: View; scale: number } | null>(null);
  const now = view ?? whole;

  /** Zooms about a point of the diagram. */
  const zoom = useCallback(
    (by: number, at?: { x: number; y: number }) =>
      setView((old) => {
        const v = old ?? whole;
        const width = Math.max(whole.width / CLOSEST, v.width / by);
        if (width >= whole.width) return null;
        const share = width / v.width;
        const { x, y } = at ?? { x: v.x + v.width / 2, y: v.y + v.height / 2 };
        return { x: x - (x - v.x) * share, y: y - (y - v.y) * share, width, height: v.height * share };
      }),
    [whole],
  );
  const fit = useCallback(() => setView(null), []);
  /** Brings a point to the middle, as near as one is, or close enough to read. */
  const show = useCallback(
    ({ x, y }: { x: number; y: number }) =>
      setView((old) => {
        const [width, height] = old ? [old.width, old.height] : [whole.width / 2.5, whole.height / 2.5];
        return { x: x - width / 2, y: y - height / 2, width, height };
      }),
    [whole],
  );
  const place = (e: { clientX: number; clientY: number }) => {
    const matrix = svg.current?.getScreenCTM();
    if (!matrix) return undefined;
    const p = new DOMPoint(e.clientX, e.clientY).matrixTransform(matrix.inverse());
    return { x: p.x, y: p.y };
  };
  const handlers = {
    onWheel: (e: WheelEvent) => zoom(e.deltaY < 0 ? 1.2 : 1 / 1.2, place(e)),
    onPointerDown: (e: PointerEvent) => {
      const matrix = svg.current?.getScreenCTM();
      if (view && matrix) drag.current = { x: e.clientX, y: e.clientY, from: view, scale: matrix.a };
    },
    onPointerMove: (e: PointerEvent) => {
      const d = drag.current;
      if (!d || e.buttons === 0 || Math.hypot(e.clientX - d.x, e.clientY - d.y) < STILL) return;
      setView({ ...d.from, x: d.from.x - (e.clientX - d.x) / d.scale, y: d.from.y - (e.clientY - d.y) / d.scale });
    },
    onPointerUp: () => {
      drag.current = null;
    },
  };
  return { svg, now, near: view !== null, zoom, fit, show, handlers };
}
