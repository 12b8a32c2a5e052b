// The debrief of an attempt, for the pages that go through it, and what they show while it is made.
import { useQuery, type UseQueryResult } from '@tanstack/react-query';

import { api, ask, type Debrief, type Schemas } from '../../api/client';
import { isWaiting, WaitingFor } from '../../app/Waiting';

export type Asked = UseQueryResult<Debrief | Schemas['Waiting']>;

export function useDebrief(id: number): { asked: Asked; told?: Debrief } {
  const asked = useQuery({
    queryKey: ['debrief', id],
    queryFn: () => ask(api.GET('/api/attempts/{id}/debrief', { params: { path: { id } } })),
    staleTime: 0,
  });
  return { asked, told: asked.data && !isWaiting(asked.data) ? asked.data : undefined };
}

export function GoingThrough({ id, asked }: { id: number; asked: Asked }) {
  if (asked.error) return <p className="error-line">{asked.error.message}</p>;
  if (!isWaiting(asked.data)) return null;
  return (
    <WaitingFor
      key={asked.dataUpdatedAt}
      what="Going through it step by step."
      events={`/api/attempts/${id}/waiting`}
      first={asked.data}
      onDone={() => void asked.refetch()}
      onAgain={() => void asked.refetch()}
    />
  );
}
