// One attempt: loading it, and doing things on it. Each action carries a key of its own, so that
// sending it again after a lost connection does it once.
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useCallback, useRef } from 'react';

import { api, ApiError, ask, type Action, type AttemptView } from '../../api/client';
import { changed } from './changes';
import { isClaim } from './useCorrections';
import { useCaution } from './useCaution';

/** A key by which an action that is sent twice is done once. */
export function newKey(): string {
  return Array.from(crypto.getRandomValues(new Uint8Array(16)), (b) => b.toString(16).padStart(2, '0')).join('');
}

/** What changes the diagram: wires of a machine that is built, and the sheet that it is on. */
const REDRAWS: Action['do'][] = ['wire', 'unwire', 'say_path', 'open_sheet'];

export function useBench(id: number) {
  const queries = useQueryClient();
  const key = ['attempt', id];
  const attempt = useQuery({
    queryKey: key,
    queryFn: () => ask(api.GET('/api/attempts/{id}', { params: { path: { id } } })),
  });
  // An action that got no answer keeps its key: it may have been done all the same.
  const unanswered = useRef<{ text: string; request: string } | null>(null);
  const send = useMutation({
    mutationFn: async (action: Action | 'hint') => {
      const view = queries.getQueryData<AttemptView>(key);
      const text = JSON.stringify(action);
      const request = unanswered.current?.text === text ? unanswered.current.request : newKey();
      unanswered.current = { text, request };
      const asked = { after: view?.bench.steps ?? 0, request };
      const params = { path: { id } };
      const bench = await ask(
        action === 'hint'
          ? api.POST('/api/attempts/{id}/hints', { params, body: asked })
          : api.POST('/api/attempts/{id}/steps', { params, body: { ...asked, action } }),
      );
      unanswered.current = null;
      // The same answer may come twice: what is known of it already is not added again.
      queries.setQueryData<AttemptView>(key, (old) =>
        old && old.bench.steps === asked.after ? { ...old, bench: changed(old.bench, bench) } : old,
      );
      return queries.getQueryData<AttemptView>(key)?.bench;
    },
    onError: (e) => {
      if (!(e instanceof ApiError) || e.status !== 0) unanswered.current = null;
      if (e instanceof ApiError && e.status === 409) void queries.invalidateQueries({ queryKey: key });
    },
  });
  const { mutateAsync } = send;
  const allow = useCaution(attempt.data);
  const act = useCallback(
    async (action: Action | 'hint') => {
      if (action !== 'hint' && !(await allow(action))) return undefined;
      try {
        const bench = await mutateAsync(action);
        if (action !== 'hint' && REDRAWS.includes(action.do))
          await queries.invalidateQueries({ queryKey: ['attempt', id] });
        if (action !== 'hint' && isClaim(action)) void queries.invalidateQueries({ queryKey: ['corrections', id] });
        return bench;
      } catch {
        return undefined;
      }
    },
    [mutateAsync, allow, queries, id],
  );
  const inVain = attempt.data?.bench.came_to_nothing;
  const error = send.error ?? (inVain ? new Error(inVain) : null);
  return { attempt, act, busy: send.isPending, error };
}

/** What a screen works an attempt with. */
export type AtWork = {
  id: number;
  attempt: AttemptView;
  act: ReturnType<typeof useBench>['act'];
  busy: boolean;
  error: Error | null;
};
