// The pictures among which one chooses what a screen will show.
import { useQuery } from '@tanstack/react-query';

import { api, ask, type Scope } from '../api/client';
import { useStill } from '../app/useStable';

/** One waits so long before what the scope is set to is asked about. */
const STILL_MS = 300;

/** Of an attempt's machine as it stands after some steps; undefined as long as they are not known, empty where there are none. */
export function usePatterns(attempt: number | undefined, steps: number, scope: Scope) {
  const still = useStill(JSON.stringify(scope), STILL_MS);
  const asked = attempt !== undefined && scope.channels.length > 0;
  const found = useQuery({
    queryKey: ['patterns', attempt, steps, still],
    queryFn: () =>
      ask(
        api.POST('/api/attempts/{id}/patterns', {
          params: { path: { id: attempt ?? 0 } },
          body: JSON.parse(still) as Scope,
        }),
      ),
    enabled: asked && still === JSON.stringify(scope),
    staleTime: Infinity,
    retry: false,
    // A reading is no other screen: the pictures stay until there are newer ones.
    placeholderData: (before) => before,
  });
  return asked ? (found.data ?? (found.error ? [] : undefined)) : [];
}
