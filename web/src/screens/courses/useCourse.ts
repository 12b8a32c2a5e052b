// A course, and changing it as a whole: its name, its lessons and their order.
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';

import { api, ask, type Schemas } from '../../api/client';
import { useChange } from '../classes/useClasses';

export type Course = Schemas['CourseView'];
export type Line = Schemas['CourseLine'];
type Change = Schemas['CourseChange'];

/** How often one looks whether something has been worked out. */
const LOOK_MS = 3000;

/** What still has to be worked out of a course's lessons: nothing is proven on a bench for trying the tools. */
export const unproven = (course: Course) => course.lessons.filter((l) => l.purpose !== 'tools' && !l.proof);

export function useCourse(id: number) {
  const [proving, setProving] = useState(false);
  const key = ['courses', id];
  const queries = useQueryClient();
  const { change, error } = useChange();
  const course = useQuery({
    queryKey: key,
    queryFn: () => ask(api.GET('/api/courses/{id}', { params: { path: { id } } })),
    refetchInterval: (query) =>
      proving && query.state.data && unproven(query.state.data).length > 0 ? LOOK_MS : false,
  });
  const path = { params: { path: { id } } };
  const save = (what: Partial<Change>) =>
    change(async () => {
      if (!course.data) return;
      const { title, about, put_away, lessons } = course.data;
      const places = lessons.map(({ lesson, chapter }) => ({ lesson, chapter }));
      await ask(api.PUT('/api/courses/{id}', { ...path, body: { title, about, put_away, lessons: places, ...what } }));
      await queries.invalidateQueries({ queryKey: ['courses'] });
    });
  const prove = () =>
    change(async () => {
      setProving(true);
      await ask(api.POST('/api/courses/{id}/proof', path));
    });
  return { course, save, prove, proving, error };
}

/** A list with one of its own moved by so many places, as far as it goes. */
export function moved<T>(list: T[], from: number, by: number): T[] {
  const to = Math.min(Math.max(from + by, 0), list.length - 1);
  const out = list.filter((_, n) => n !== from);
  const one = list[from];
  if (one !== undefined) out.splice(to, 0, one);
  return out;
}
