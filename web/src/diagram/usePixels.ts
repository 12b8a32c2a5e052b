// A drawing that is told its size in pixels. While its size is a share of what holds it, the browser lays
// out every text on it anew whenever anything else on the page changes.
import { useLayoutEffect, type RefObject } from 'react';

export function usePixels(svg: RefObject<SVGSVGElement | null>) {
  useLayoutEffect(() => {
    const drawn = svg.current;
    const around = drawn?.parentElement;
    if (!drawn || !around) return;
    const fill = () => {
      drawn.style.width = `${around.clientWidth}px`;
      drawn.style.height = `${around.clientHeight}px`;
    };
    fill();
    const watch = new ResizeObserver(fill);
    watch.observe(around);
    return () => watch.disconnect();
  }, [svg]);
}
