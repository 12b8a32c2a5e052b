import { expect, test } from 'vitest';

import type { Schemas } from '../../api/client';
import { isAsHard, matches } from './find';

const lesson = (minutes?: number) =>
  ({
    title: 'Will not crank',
    fault: 'W8 open',
    circuit: 'Baggage tug, starting',
    folder: 'First term',
    purpose: 'marks',
    skills: ['halving a path', 'under load'],
    prospect: minutes === undefined ? null : { plan: { minutes } },
  }) as Schemas['LessonItem'];

test('every word is looked for in all that is said of a lesson: machine, system, fault, folder and skill', () => {
  for (const words of ['', 'starting', 'tug w8', 'HALVING first', 'load marks']) {
    expect(matches(lesson(), words), words).toBe(true);
  }
  expect(matches(lesson(), 'starting charging')).toBe(false);
});

test('a lesson lies in one band of difficulty, or how hard it is was not worked out', () => {
  expect(isAsHard(lesson(10), 'middle')).toBe(true);
  expect(isAsHard(lesson(10), 'easy')).toBe(false);
  expect(isAsHard(lesson(200), 'harder')).toBe(true);
  expect(isAsHard(lesson(), 'unknown')).toBe(true);
  expect(isAsHard(lesson(), 'easy')).toBe(false);
  expect(isAsHard(lesson(12), 'unknown')).toBe(false);
  expect(isAsHard(lesson(), 'any') && isAsHard(lesson(3), 'any')).toBe(true);
});
