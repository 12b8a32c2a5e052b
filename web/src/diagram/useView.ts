// Which part of a diagram is in view: by wheel, pinch, drag, double click and keys. The gestures are d3-zoom's.
import { select } from 'd3-selection';
import { zoom, zoomIdentity, type D3ZoomEvent, type ZoomBehavior, type ZoomTransform } from 'd3-zoom';
import { useCallback, useEffect, useMemo, useRef, useState, type KeyboardEvent, type RefObject } from 'react';

type Extent = { width: number; height: number };
export type View = Extent & { x: number; y: number };

/** How far in one can go. */
const CLOSEST = 8;
/** One press of a key. */
const NEARER = 1.4;
/** While it is moved the page learns where it stands after so many milliseconds, and at the end. */
const LAG = 80;
/** Share of the window that an arrow key moves by. */
const STEP = 0.12;
const ARROWS: Record<string, [number, number]> = {
  ArrowLeft: [1, 0],
  ArrowRight: [-1, 0],
  ArrowUp: [0, 1],
  ArrowDown: [0, -1],
};

/** A view of `whole` through a window, that a drag moves unless it draws a rubber band; it shows all of it or, from the upper left, what it has room for. */
export function useView(whole: Extent, window: Extent, banding: RefObject<boolean>) {
  const svg = useRef<SVGSVGElement>(null);
  const [at, setAt] = useState<ZoomTransform>(zoomIdentity);
  const now = useRef<ZoomTransform>(zoomIdentity);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const tell = useCallback(() => {
    clearTimeout(timer.current);
    timer.current = undefined;
    setAt(now.current);
  }, []);
  const least = Math.min(1, window.width / whole.width, window.height / whole.height);
  const behaviour = useMemo<ZoomBehavior<SVGSVGElement, unknown>>(
    () =>
      zoom<SVGSVGElement, unknown>()
        .scaleExtent([least, CLOSEST])
        .translateExtent([
          [0, 0],
          [Math.max(whole.width, window.width), Math.max(whole.height, window.height)],
        ])
        // A handle moves its part; two clicks on a test point put two leads.
        .filter((e: MouseEvent) => {
          const on = e.target instanceof Element && e.target.closest('.mover, .point') !== null;
          // So does a rubber band, with or without the key that draws one.
          if (e.type !== 'wheel' && (banding.current || e.shiftKey)) return false;
          return !e.button && !(on && (e.type === 'dblclick' || e.type === 'mousedown'));
        })
        .on('zoom', ({ transform }: D3ZoomEvent<SVGSVGElement, unknown>) => {
          // A frame moves what is drawn, and draws nothing anew.
          svg.current?.firstElementChild?.setAttribute('transform', transform.toString());
          now.current = transform;
          timer.current ??= setTimeout(tell, LAG);
        })
        .on('end', tell),
    [whole.width, whole.height, window.width, window.height, least, banding, tell],
  );
  useEffect(() => () => clearTimeout(timer.current), []);
  useEffect(() => {
    if (svg.current) select(svg.current).call(behaviour);
  }, [behaviour]);

  const by = useCallback(
    (share: number) => {
      if (svg.current) behaviour.scaleBy(select(svg.current), share);
    },
    [behaviour],
  );
  const fit = useCallback(() => {
    if (svg.current) behaviour.transform(select(svg.current), zoomIdentity.scale(least));
  }, [behaviour, least]);
  /** Brings a point to the middle, where not all is in view. */
  const show = useCallback(
    ({ x, y }: { x: number; y: number }) => {
      if (svg.current) behaviour.translateTo(select(svg.current), x, y);
    },
    [behaviour],
  );
  const keys = (e: KeyboardEvent) => {
    if (e.defaultPrevented || !svg.current) return;
    const arrow = ARROWS[e.key];
    if (arrow)
      behaviour.translateBy(select(svg.current), arrow[0] * STEP * window.width, arrow[1] * STEP * window.height);
    else if (e.key === '+' || e.key === '=') by(NEARER);
    else if (e.key === '-') by(1 / NEARER);
    else if (e.key === '0') fit();
    else return;
    e.preventDefault();
  };
  const view: View = {
    x: -at.x / at.k,
    y: -at.y / at.k,
    width: window.width / at.k,
    height: window.height / at.k,
  };
  return { svg, at, now: view, near: at.k > least * 1.05, by, fit, show, keys };
}
