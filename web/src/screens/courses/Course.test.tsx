import { screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { Route, Routes } from 'react-router';
import { afterEach, describe, expect, it, vi } from 'vitest';

import { lessonsOf } from './SkillMap';
import { added, broughtTo, stepped, unproven, type Course } from './useCourse';

const line = (lesson: number, part: Partial<Course['lessons'][number]> = {}): Course['lessons'][number] => ({
  lesson,
  title: `Lesson ${lesson}`,
  chapter: 'Basics',
  circuit: 'Tug',
  purpose: 'marks',
  seeks_fault: true,
  asks: '',
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
    line(3, { purpose: 'tools', seeks_fault: false, chapter: 'Starting' }),
    line(4, { chapter: 'Starting', too_early: ['“drain” needs “clamp” first'] }),
  ],
  classes: [{ id: 1, name: 'First year', done: [{ lesson: 1, given: 14, handed_in: 14 }] }],
};

describe('what a course holds', () => {
  const places = [
    { lesson: 1, chapter: 'Basics' },
    { lesson: 2, chapter: 'Basics' },
    { lesson: 3, chapter: 'Starting' },
  ];
  const told = (list: typeof places) => list.map((p) => `${p.lesson} ${p.chapter}`);

  it('moves a lesson within its chapter, and at its border into the next one first', () => {
    expect(told(stepped(places, 0, 1))).toEqual(['2 Basics', '1 Basics', '3 Starting']);
    const over = stepped(places, 1, 1);
    expect(told(over)).toEqual(['1 Basics', '2 Starting', '3 Starting']);
    expect(told(stepped(over, 1, -1))).toEqual(told(places));
    expect(stepped(places, 2, 1)).toEqual(places);
  });

  it('brings a lesson to a number, into the chapter of what stands there', () => {
    expect(told(broughtTo(places, 2, 0))).toEqual(['3 Basics', '1 Basics', '2 Basics']);
    expect(told(broughtTo(places, 0, 2))).toEqual(['2 Basics', '3 Starting', '1 Starting']);
  });

  it('adds at the end of a chapter, or of the course', () => {
    expect(told(added(places, { lesson: 9, chapter: 'Basics' }))[2]).toBe('9 Basics');
    expect(told(added(places, { lesson: 9, chapter: 'New' }))[3]).toBe('9 New');
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
    expect(rows.map((r) => r.textContent).join('|')).toContain('Basics Rename|');
    expect(await screen.findAllByText('halving a path')).toHaveLength(2);
    expect(screen.getByText('14/14')).toBeInTheDocument();
    expect(screen.getByText(/needs “clamp” first/)).toBeInTheDocument();
    expect(screen.getByText('not worked out yet')).toBeInTheDocument();
    expect(screen.getByText(/1 of 4 given out, 1 handed in by all/)).toBeInTheDocument();
  });

  it('goes into the chapter before it, to a number, and under another name', async () => {
    const sent = await shown();
    const last = () => (sent.at(-1)?.body as { lessons: { lesson: number; chapter: string }[] }).lessons;
    await userEvent.click(screen.getByRole('button', { name: 'Lesson 2: earlier' }));
    expect(sent[0]).toMatchObject({ method: 'PUT', path: '/api/courses/{id}' });
    expect(last()[1]).toEqual({ lesson: 2, chapter: 'Basics' });
    const number = screen.getByRole('spinbutton', { name: 'Lesson 4: number' });
    await userEvent.clear(number);
    await userEvent.type(number, '1{Enter}');
    expect(last().map((l) => l.lesson)).toEqual([4, 1, 2, 3]);
    expect(last()[0]?.chapter).toBe('Basics');
    await userEvent.click(screen.getByRole('button', { name: 'Rename Starting' }));
    const name = screen.getByLabelText('Name of the chapter');
    await userEvent.clear(name);
    await userEvent.type(name, 'Cranking{Enter}');
    expect(last().map((l) => l.chapter)).toEqual(['Basics', 'Cranking', 'Cranking', 'Cranking']);
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
