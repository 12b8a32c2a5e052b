// The chosen place: what it is, and what can be done with it now.
import type { ReactNode } from 'react';

import type { Drawing } from '../api/client';
import { useChoose, useChosen } from './chosen';
import { describe } from './describe';
import './PlaceCard.css';

type Props = { drawing: Drawing; doings?: (place: string) => ReactNode };

export function PlaceCard({ drawing, doings }: Props) {
  const { chosen, hovered } = useChosen();
  const { choose } = useChoose();
  const shown = chosen ?? hovered;
  const words = shown && describe(drawing, shown);
  if (!shown || !words) return <span className="place-card" />;
  return (
    <div
      className="place-card"
      role="group"
      aria-label="Chosen place"
      onKeyDown={(e) => {
        if (e.key === 'Escape') choose(null);
      }}
    >
      <span className="words" title={words} aria-live="polite">
        {words}
      </span>
      {shown === chosen && doings?.(chosen)}
    </div>
  );
}
