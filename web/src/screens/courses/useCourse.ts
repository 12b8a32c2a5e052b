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
export const unproven = (course: Course) => course.lessons.filter((l) => l.seeks_fault && !l.proof);

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
      const { title, about, put_away } = course.data;
      const whole = { title, about, put_away, lessons: placesOf(course.data), ...what };
      await ask(api.PUT('/api/courses/{id}', { ...path, body: whole }));
      await queries.invalidateQueries({ queryKey: ['courses'] });
    });
  const prove = () =>
    change(async () => {
      setProving(true);
      await ask(api.POST('/api/courses/{id}/proof', path));
    });
  return { course, save, prove, proving, error };
}

/** A lesson in a chapter. */
export type Place = Change['lessons'][number];

/** Its lessons in order, each with its chapter. */
export const placesOf = (course: Course): Place[] => course.lessons.map(({ lesson, chapter }) => ({ lesson, chapter }));

/** A list with one of its own at another place of it, as far as it goes. */
function moved<T>(list: T[], from: number, to: number): T[] {
  const out = list.filter((_, n) => n !== from);
  const one = list[from];
  if (one !== undefined) out.splice(Math.min(Math.max(to, 0), out.length), 0, one);
  return out;
}

/** One step earlier or later. At the border of its chapter a lesson goes into the next one first, and keeps its place. */
export function stepped(places: Place[], at: number, by: 1 | -1): Place[] {
  const [one, beside] = [places[at], places[at + by]];
  if (!one || !beside) return places;
  if (one.chapter === beside.chapter) return moved(places, at, at + by);
  return places.map((p, n) => (n === at ? { ...p, chapter: beside.chapter } : p));
}

/** Brought to a place, counted from 0, and into the chapter of what stands there. */
export function broughtTo(places: Place[], at: number, to: number): Place[] {
  const there = places[Math.min(Math.max(to, 0), places.length - 1)];
  const list = places.map((p, n) => (n === at && there ? { ...p, chapter: there.chapter } : p));
  return moved(list, at, to);
}

/** Added at the end of its chapter, or of the course where there is no such chapter yet. */
export function added(places: Place[], one: Place): Place[] {
  const last = places.findLastIndex((p) => p.chapter === one.chapter);
  return moved([...places, one], places.length, last < 0 ? places.length : last + 1);
}
