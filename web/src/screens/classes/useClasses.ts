// The classes that one teaches or helps in, and what was given out in them.
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';

import { api, ask, sentenceOf, type Schemas } from '../../api/client';

export type Class = Schemas['ClassView'];
export type Assignment = Schemas['AssignmentView'];

export const useClasses = () => useQuery({ queryKey: ['classes'], queryFn: () => ask(api.GET('/api/classes')) });

export const useAssignments = () =>
  useQuery({ queryKey: ['assignments'], queryFn: () => ask(api.GET('/api/assignments')) });

/** Those who learn in a class and are still there. */
export const studentsOf = (one: Class | undefined) => one?.members.filter((m) => m.role === 'student' && !m.left) ?? [];

/** Does something that changes a class, and says why where it is refused. */
export function useChange() {
  const queries = useQueryClient();
  const [error, setError] = useState('');
  const change = async (what: () => Promise<unknown>): Promise<boolean> => {
    setError('');
    try {
      await what();
    } catch (e) {
      setError(sentenceOf(e));
      return false;
    }
    const changed = ['classes', 'assignments', 'people', 'lessons', 'attempts', 'courses'];
    await Promise.all(changed.map((key) => queries.invalidateQueries({ queryKey: [key] })));
    return true;
  };
  return { change, error, setError };
}
