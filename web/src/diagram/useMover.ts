// Moving a part of a diagram by mouse or arrow keys.
import { useRef, type KeyboardEvent, type PointerEvent } from 'react';

/** One press of an arrow key, and with Shift held, in diagram units. */
const STEP = 8;
const FINE = 2;
const ARROWS: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

export function useMover(onMove?: (id: string, dx: number, dy: number) => void) {
  const from = useRef<{ id: string; x: number; y: number } | null>(null);
  return (id: string) => ({
    tabIndex: 0,
    role: 'button',
    'data-mover': id,
    'aria-label': `Move ${id} with the arrow keys`,
    onKeyDown: (e: KeyboardEvent) => {
      const arrow = ARROWS[e.key];
      if (!arrow) return;
      e.preventDefault();
      const step = e.shiftKey ? FINE : STEP;
      onMove?.(id, arrow[0] * step, arrow[1] * step);
    },
    onPointerDown: (e: PointerEvent<SVGRectElement>) => {
      e.stopPropagation();
      e.currentTarget.setPointerCapture(e.pointerId);
      from.current = { id, x: e.clientX, y: e.clientY };
    },
    onPointerUp: (e: PointerEvent<SVGRectElement>) => {
      const start = from.current;
      from.current = null;
      const scale = e.currentTarget.getScreenCTM()?.a ?? 1;
      if (start?.id !== id) return;
      const [dx, dy] = [Math.round((e.clientX - start.x) / scale), Math.round((e.clientY - start.y) / scale)];
      if (dx !== 0 || dy !== 0) onMove?.(id, dx, dy);
    },
  });
}
