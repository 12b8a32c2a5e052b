// The whole of a diagram in small, where only a part of it is in view: to see where one is, and to go elsewhere.
import type { PointerEvent } from 'react';

import { copper, ink } from '../theme';
import type { Spot } from './scene';
import type { View } from './useView';

type Props = {
  /** The id of what is drawn. */
  drawn: string;
  whole: View;
  now: View;
  onShow: (spot: Spot) => void;
};

export function Overview({ drawn, whole, now, onShow }: Props) {
  const go = (e: PointerEvent<SVGSVGElement>) => {
    e.stopPropagation();
    if (e.type === 'pointermove' && e.buttons === 0) return;
    const box = e.currentTarget.getBoundingClientRect();
    const share = { x: (e.clientX - box.left) / box.width, y: (e.clientY - box.top) / box.height };
    onShow({ x: whole.x + share.x * whole.width, y: whole.y + share.y * whole.height });
  };
  return (
    <svg
      className="overview"
      viewBox={`${whole.x} ${whole.y} ${whole.width} ${whole.height}`}
      aria-hidden
      onPointerDown={go}
      onPointerMove={go}
    >
      <use href={`#${drawn}`} />
      <rect {...now} fill={copper} fillOpacity={0.12} stroke={ink} strokeWidth={whole.width / 160} />
    </svg>
  );
}
