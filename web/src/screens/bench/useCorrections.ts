// Practice: what is wrong so far is said at once, with its reason.
import { useQuery } from '@tanstack/react-query';

import { api, ask, type Action, type Schemas } from '../../api/client';
import { isWaiting } from '../../app/Waiting';

/** How often it is asked again while it is being worked out, in ms. */
const AGAIN = 2000;

/** What a claim or a repair does is looked at again; what is only measured is not. */
export const isClaim = ({ do: what }: Action) =>
  what === 'judge' || what === 'clear' || what === 'suspect' || what === 'repair' || what === 'name_fault';

export function useCorrections(id: number, practice: boolean): Schemas['Corrected'][] {
  const told = useQuery({
    queryKey: ['corrections', id],
    queryFn: () => ask(api.GET('/api/attempts/{id}/corrections', { params: { path: { id } } })),
    enabled: practice,
    staleTime: Infinity,
    refetchInterval: (query) => (isWaiting(query.state.data) ? AGAIN : false),
  });
  return told.data && !isWaiting(told.data) ? told.data : [];
}
