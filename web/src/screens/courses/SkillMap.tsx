// Which skills a course practises, in which lessons, and what each stands on.
import { useQuery } from '@tanstack/react-query';

import { api, ask, type Schemas } from '../../api/client';
import type { Course } from './useCourse';

type Card = Schemas['SkillCard'];

export const useCards = () =>
  useQuery({ queryKey: ['skills'], queryFn: () => ask(api.GET('/api/skills')), staleTime: Infinity });

/** The name of a skill. */
export function useSkills(): (skill: Card['id']) => string {
  const cards = useCards().data;
  return (skill) => cards?.find((c) => c.id === skill)?.name ?? '';
}

/** The numbers of the lessons that practise a skill: those that declare it, and those whose plan shows it. */
export function lessonsOf(course: Course, skill: Card['id']): { declared: number[]; shown: number[] } {
  const numbers = (is: (line: Course['lessons'][number]) => boolean) =>
    course.lessons.flatMap((line, n) => (is(line) ? [n + 1] : []));
  return {
    declared: numbers((l) => l.declared.includes(skill)),
    shown: numbers((l) => !l.declared.includes(skill) && !!l.proof?.skills.some((s) => s.skill === skill)),
  };
}

export function SkillMap({ course }: { course: Course }) {
  const cards = useCards();
  const name = useSkills();
  return (
    <table className="sheet-table" aria-label="Skills of the course">
      <thead>
        <tr>
          <th>Skill</th>
          <th>Stands on</th>
          <th>Lessons for it</th>
          <th>Also used in</th>
        </tr>
      </thead>
      <tbody>
        {cards.data?.map((card) => {
          const { declared, shown } = lessonsOf(course, card.id);
          return (
            <tr key={card.id} className={declared.length + shown.length === 0 ? 'quiet' : undefined}>
              <td>
                {card.name}
                <div className="quiet small">{card.about}</div>
              </td>
              <td className="small">{card.needs.map(name).join(', ') || '–'}</td>
              <td className="mono">{declared.join(', ') || (shown.length > 0 ? '–' : 'in none')}</td>
              <td className="mono">{shown.join(', ') || '–'}</td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
