// Finding a lesson: by words that are said of it, and by how long its plan takes.
import type { Schemas } from '../../api/client';

type Item = Schemas['LessonItem'];

/** What is said of a lesson holds every word that is looked for. */
export function matches(lesson: Item, words: string): boolean {
  const { title, fault, circuit, folder, purpose, skills } = lesson;
  const text = [title, fault, circuit, folder, purpose, ...skills].join(' ').toLowerCase();
  return words
    .toLowerCase()
    .split(/\s+/)
    .every((word) => text.includes(word));
}

/** Bands of difficulty, in minutes of the plan. */
export const BANDS = [
  { value: 'any', label: 'however hard' },
  { value: 'easy', label: 'under 10 min', from: 0, below: 10 },
  { value: 'middle', label: '10 to 20 min', from: 10, below: 20 },
  { value: 'hard', label: '20 to 40 min', from: 20, below: 40 },
  { value: 'harder', label: '40 min and more', from: 40, below: Infinity },
  { value: 'unknown', label: 'not worked out' },
] as const;

export type Band = (typeof BANDS)[number]['value'];

/** A lesson lies in a band; how hard it is has to have been worked out for that. */
export function isAsHard(lesson: Item, value: Band): boolean {
  const band = BANDS.find((b) => b.value === value);
  const minutes = lesson.prospect?.plan.minutes;
  if (band && 'from' in band) return minutes !== undefined && minutes >= band.from && minutes < band.below;
  return value === 'any' || minutes === undefined;
}
