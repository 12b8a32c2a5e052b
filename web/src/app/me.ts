// Who is signed in.
import { useQuery, useQueryClient } from '@tanstack/react-query';

import { api, ApiError, ask, type Me } from '../api/client';
import { project } from './projector';

/** What somebody may be; one may be more than one thing. */
export type Role = 'administrator' | 'instructor' | 'assistant' | 'student';

export const is = (me: Me | null | undefined, ...roles: Role[]) =>
  roles.some((role) => me?.roles.includes(role) ?? false);

export function useMe() {
  return useQuery<Me | null>({
    queryKey: ['me'],
    queryFn: async () => {
      try {
        return await ask(api.GET('/api/me'));
      } catch (e) {
        if (e instanceof ApiError && e.status === 401) return null;
        throw e;
      }
    },
    staleTime: Infinity,
  });
}

/** Signs out and forgets everything that was loaded. */
export function useSignOut() {
  const queries = useQueryClient();
  return async () => {
    await ask(api.POST('/api/sign-out'));
    queries.clear();
    project(false);
    window.location.assign('/');
  };
}
