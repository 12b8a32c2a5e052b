// A rubber band: a rectangle drawn over the diagram, and the places whose marks lie in it.
import { useRef, useState, type PointerEvent, type RefObject } from 'react';

import type { Scene, Spot } from './scene';

export type Band = { x: number; y: number; width: number; height: number };

/** The rectangle between two spots. */
export function between(a: Spot, b: Spot): Band {
  return {
    x: Math.min(a.x, b.x),
    y: Math.min(a.y, b.y),
    width: Math.abs(a.x - b.x),
    height: Math.abs(a.y - b.y),
  };
}

/** The places in a rectangle, from the top down and from left to right. */
export function placesIn(scene: Pick<Scene, 'places'>, { x, y, width, height }: Band): string[] {
  const inside = scene.places.filter((p) => p.x >= x && p.x <= x + width && p.y >= y && p.y <= y + height);
  inside.sort((a, b) => a.y - b.y || a.x - b.x);
  return [...new Set(inside.map((p) => p.id))];
}

type Props = {
  svg: RefObject<SVGSVGElement | null>;
  scene: Scene;
  /** What is chosen with it; without it there is none. */
  onArea?: (places: string[]) => void;
};

export function useBand({ svg, scene, onArea }: Props) {
  /** The next drag draws one. */
  const [ready, setReady] = useState(false);
  const [band, setBand] = useState<Band>();
  const from = useRef<Spot | null>(null);
  const spotAt = (e: PointerEvent): Spot | null => {
    const inner = svg.current?.firstElementChild;
    const matrix = inner instanceof SVGGElement ? inner.getScreenCTM() : null;
    return matrix && new DOMPoint(e.clientX, e.clientY).matrixTransform(matrix.inverse());
  };
  return {
    ready,
    setReady,
    band,
    begin: (e: PointerEvent) => {
      if (!onArea || !(ready || e.shiftKey)) return;
      from.current = spotAt(e);
      svg.current?.setPointerCapture(e.pointerId);
    },
    draw: (e: PointerEvent) => {
      const to = from.current && spotAt(e);
      if (from.current && to) setBand(between(from.current, to));
    },
    /** Whether one was drawn. */
    end: (): boolean => {
      from.current = null;
      if (!band) return false;
      setBand(undefined);
      setReady(false);
      onArea?.(placesIn(scene, band));
      return true;
    },
  };
}
