// One's own sketch on the machine of a bench: kept as one goes, and there again in the next lesson on it.
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';

import { api, ask, type AttemptView } from '../../api/client';
import type { SketchMark } from '../../diagram/Sketch';

const NONE: SketchMark[] = [];

export function useSketch(attempt: AttemptView) {
  const queries = useQueryClient();
  const key = ['sketch', attempt.id];
  const params = { path: { id: attempt.id } };
  const kept = useQuery({
    queryKey: key,
    queryFn: () => ask(api.GET('/api/attempts/{id}/sketch', { params })),
    enabled: attempt.own,
  });
  const keep = useMutation({
    mutationFn: (marks: SketchMark[]) => ask(api.PUT('/api/attempts/{id}/sketch', { params, body: { marks } })),
    onSuccess: (_, marks) => queries.setQueryData(key, { marks }),
  });
  return { marks: kept.data?.marks ?? NONE, keep: keep.mutateAsync, error: keep.error, own: attempt.own };
}

export type OwnSketch = ReturnType<typeof useSketch>;
