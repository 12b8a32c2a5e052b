// The chosen place: what it is, and what can be done with it now.
import { useEffect, type ReactNode } from 'react';

import type { Drawing } from '../api/client';
import { useChoose, useChosen } from './chosen';
import { describe } from './describe';
import './PlaceCard.css';

type Props = { drawing: Drawing; doings?: (place: string) => ReactNode };

export function PlaceCard({ drawing, doings }: Props) {
  const { chosen, hovered } = useChosen();
  const { choose } = useChoose();
  useEffect(() => {
    if (chosen === null) return;
    const letGo = (e: KeyboardEvent) => e.key === 'Escape' && choose(null);
    window.addEventListener('keydown', letGo);
    return () => window.removeEventListener('keydown', letGo);
  }, [chosen, choose]);
  const shown = chosen ?? hovered;
  const words = shown && describe(drawing, shown);
  if (!shown || !words) return <span className="place-card" />;
  return (
    <div className="place-card" role="group" aria-label="Chosen place">
      <span className="words" title={words} aria-live="polite">
        {words}
      </span>
      {shown === chosen && doings?.(chosen)}
    </div>
  );
}
