// What a student's own bench hears: words from the front, and what the other of two does at it.
import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef } from 'react';

import type { Schemas } from '../../api/client';
import { useEvents } from '../../app/useEvents';

export type Heard = Schemas['HeardView'];

/** `steps` are known: where more were done, by a partner or in another window, the bench is loaded again. */
export function useHeard(id: number, listens: boolean, steps: number): Heard | undefined {
  const { latest } = useEvents<Heard>(listens ? `/api/attempts/${id}/heard` : undefined);
  const queries = useQueryClient();
  const more = (latest?.steps ?? 0) > steps;
  // Whose time stood still has more of it than the page knows.
  const paused = latest?.paused ?? false;
  const stood = useRef(false);
  useEffect(() => {
    const goesOn = stood.current && !paused;
    stood.current = paused;
    if (more || goesOn) void queries.invalidateQueries({ queryKey: ['attempt', id] });
  }, [more, paused, latest, queries, id]);
  return latest;
}
