// What a class can do, criterion by criterion: over the weeks as small pictures, and student by student.
import { useQuery } from '@tanstack/react-query';
import { useParams } from 'react-router';

import { api, ask, type Schemas } from '../../api/client';
import { PrivatePart } from '../../app/projector';
import { Shell } from '../../app/Shell';
import './Insight.css';

type Criterion = Schemas['CriterionView'];

const percent = (share: number) => `${Math.round(100 * share)} %`;
const day = (at: number) => new Date(at * 1000).toLocaleDateString(undefined, { day: 'numeric', month: 'short' });

export default function ClassInsight() {
  const id = Number(useParams().id);
  const told = useQuery({
    queryKey: ['class-insight', id],
    queryFn: () => ask(api.GET('/api/classes/{id}/insight', { params: { path: { id } } })),
    staleTime: 0,
  });
  const criteria = told.data?.criteria ?? [];
  const skills = told.data?.skills ?? [];
  return (
    <Shell crumbs={[{ text: 'Classes', to: '/classes' }, { text: told.data?.class ?? '…' }, { text: 'Insight' }]}>
      <main className="page insight" tabIndex={0}>
        <h1>What the class can do</h1>
        {told.error && <p className="error-line">{told.error.message}</p>}
        {told.data && criteria.length === 0 && <p>Nothing of this class is marked yet.</p>}
        {criteria.length > 0 && (
          <>
            <p className="quiet close">Shares of the marks of each line, as computed, by the week of handing in.</p>
            <div className="weeks">
              {criteria.map((c) => (
                <Weeks key={c.criterion} of={c} />
              ))}
            </div>
            {skills.length > 0 && (
              <>
                <h2 className="apart">Skill by skill</h2>
                <p className="quiet close">Shares of all the marks of the lessons that practise it.</p>
                <div className="weeks">
                  {skills.map((c) => (
                    <Weeks key={c.criterion} of={c} />
                  ))}
                </div>
              </>
            )}
            <h2 className="apart">Student by student</h2>
            <PrivatePart what="Names and marks are">
              <ByStudent of={criteria} what="line of the sheet" counted />
              {skills.length > 0 && <ByStudent of={skills} what="skill" />}
            </PrivatePart>
          </>
        )}
      </main>
    </Shell>
  );
}

/** What each student has of each criterion or skill; `counted` where every sheet has all of them. */
function ByStudent({ of, what, counted }: { of: Criterion[]; what: string; counted?: boolean }) {
  return (
    <div className="wide" tabIndex={0} role="group" aria-label={`Student by student, by ${what}`}>
      <table className="sheet-table">
        <thead>
          <tr>
            <th>Student</th>
            {of.map((c) => (
              <th key={c.criterion} className="number">
                {c.title}
              </th>
            ))}
            {counted && <th className="number">Sheets</th>}
          </tr>
        </thead>
        <tbody>
          {namesOf(of).map(({ student, display }) => {
            const own = of.map((c) => c.students.find((s) => s.student === student));
            return (
              <tr key={student}>
                <th scope="row">{display}</th>
                {own.map((s, n) => (
                  <td key={of[n]?.criterion} className="number" title={s && `of ${s.sheets} sheets`}>
                    {s ? percent(s.share) : ''}
                  </td>
                ))}
                {counted && <td className="number quiet">{Math.max(...own.map((s) => s?.sheets ?? 0))}</td>}
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}

function namesOf(criteria: Criterion[]) {
  const all = new Map(criteria.flatMap((c) => c.students.map((s) => [s.student, s.display] as const)));
  return [...all]
    .map(([student, display]) => ({ student, display }))
    .sort((a, b) => a.display.localeCompare(b.display));
}

const WIDTH = 180;
const HEIGHT = 44;

/** A criterion over the weeks: a small picture with its first and last figure, each week's in its title. */
function Weeks({ of }: { of: Criterion }) {
  const last = of.weeks.at(-1);
  const first = of.weeks[0];
  if (!first || !last) return null;
  const span = Math.max(1, last.begins - first.begins);
  const x = (at: number) => (of.weeks.length === 1 ? WIDTH / 2 : 4 + ((at - first.begins) / span) * (WIDTH - 8));
  const y = (share: number) => 4 + (1 - share) * (HEIGHT - 8);
  const sheets = of.weeks.reduce((sum, w) => sum + w.sheets, 0);
  return (
    <figure data-criterion={of.criterion}>
      <figcaption>
        <b>{of.title}</b> <span className="mono">{percent(last.share)}</span>
      </figcaption>
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        role="img"
        aria-label={of.weeks.map((w) => `week of ${day(w.begins)}: ${percent(w.share)} of ${w.sheets}`).join('; ')}
      >
        <line x1="0" x2={WIDTH} y1={y(0)} y2={y(0)} className="ground" />
        <polyline points={of.weeks.map((w) => `${x(w.begins)},${y(w.share)}`).join(' ')} />
        {of.weeks.map((w) => (
          <circle key={w.begins} cx={x(w.begins)} cy={y(w.share)} r="3">
            <title>
              week of {day(w.begins)}: {percent(w.share)}, {w.sheets} sheets
            </title>
          </circle>
        ))}
      </svg>
      <span className="quiet">
        {first === last ? 'week of ' : `${day(first.begins)} to `}
        {day(last.begins)}, {sheets} {sheets === 1 ? 'sheet' : 'sheets'}
      </span>
    </figure>
  );
}
