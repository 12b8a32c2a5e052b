import { screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { Route, Routes } from 'react-router';
import { afterEach, describe, expect, it, vi } from 'vitest';

import { lessonsOf } from './SkillMap';
import { moved, unproven, type Course } from './useCourse';

const line = (lesson: number, part: Partial<Course['lessons'][number]> = {}): Course['lessons'][number] => ({
  lesson,
  title: `Lesson ${lesson}`,
  chapter: 'Basics',
  circuit: 'Tug',
  purpose: 'marks',
  job: 'complaint',
  fault: 'W8 open',
  declared: [],
  too_early: [],
  ...part,
});
const proof = (skills: { skill: 'halving' | 'clamp'; shown: boolean }[]) => ({
  places: 9,
  readings: 3,
  minutes: 12,
  bits: 3,
  misleading: 4,
  group: ['W8'],
  skills,
  hinders: [],
});
const course: Course = {
  id: 4,
  title: 'A year',
  about: '',
  put_away: false,
  lessons: [
    line(1, { declared: ['halving'], proof: proof([{ skill: 'halving', shown: true }]) }),
    line(2, { proof: proof([{ skill: 'halving', shown: true }]), chapter: 'Starting' }),
    line(3, { purpose: 'tools', chapter: 'Starting' }),
    line(4, { chapter: 'Starting', too_early: ['“drain” needs “clamp” first'] }),
  ],
  classes: [{ id: 1, name: 'First year', done: [{ lesson: 1, given: 14, handed_in: 14 }] }],
};

describe('what a course holds', () => {
  it('moves a lesson as far as it goes', () => {
    expect(moved(['a', 'b', 'c'], 0, 1)).toEqual(['b', 'a', 'c']);
    expect(moved(['a', 'b', 'c'], 2, 1)).toEqual(['a', 'b', 'c']);
    expect(moved(['a', 'b', 'c'], 2, -2)).toEqual(['c', 'a', 'b']);
  });

  it('knows which lessons are for a skill, and which use it too', () => {
    expect(lessonsOf(course, 'halving')).toEqual({ declared: [1], shown: [2] });
    expect(lessonsOf(course, 'clamp')).toEqual({ declared: [], shown: [] });
  });

  it('has nothing to prove on a bench for trying the tools', () => {
    expect(unproven(course).map((l) => l.lesson)).toEqual([4]);
  });
});

describe('the page of a course', () => {
  afterEach(() => vi.restoreAllMocks());

  const shown = async () => {
    const { served } = await import('../../test/served');
    const { default: Page } = await import('./Course');
    const sent = served(
      <Routes>
        <Route path="*" element={<Page />} />
      </Routes>,
      {
        '/api/me': { name: 'dalca', display: 'R. Dalca', roles: ['instructor'] },
        '/api/courses/{id}': course,
        '/api/skills': [{ id: 'halving', name: 'halving a path', about: 'Halves.', needs: [] }],
        '/api/lessons': [],
      },
    );
    await screen.findByRole('table', { name: 'Lessons in order' });
    return sent;
  };

  it('shows chapters, what each practises, how far a class is and what comes too early', async () => {
    await shown();
    const rows = screen.getAllByRole('row');
    expect(rows.map((r) => r.textContent).join('|')).toContain('Basics|1Lesson 1');
    expect(await screen.findAllByText('halving a path')).toHaveLength(2);
    expect(screen.getByText('14/14')).toBeInTheDocument();
    expect(screen.getByText(/needs “clamp” first/)).toBeInTheDocument();
    expect(screen.getByText('not worked out yet')).toBeInTheDocument();
    expect(screen.getByText(/1 of 4 given out, 1 handed in by all/)).toBeInTheDocument();
  });

  it('moves a lesson into the chapter that it comes to stand in', async () => {
    const sent = await shown();
    await userEvent.click(screen.getByRole('button', { name: 'Lesson 2: earlier' }));
    expect(sent[0]).toMatchObject({ method: 'PUT', path: '/api/courses/{id}' });
    const body = sent[0]?.body as { lessons: { lesson: number; chapter: string }[] };
    expect(body.lessons.map((l) => l.lesson)).toEqual([2, 1, 3, 4]);
    expect(body.lessons[0]?.chapter).toBe('Basics');
  });

  it('has what was not worked out proven', async () => {
    const sent = await shown();
    await userEvent.click(screen.getByRole('button', { name: /Prove the 1/ }));
    expect(sent).toContainEqual(expect.objectContaining({ method: 'POST', path: '/api/courses/{id}/proof' }));
    const again = await screen.findByRole('button', { name: /Working it out: 1 to go/ });
    expect(again).toBeDisabled();
    expect(within(again).queryByText('Prove')).toBeNull();
  });
});
