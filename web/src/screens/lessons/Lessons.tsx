// The instructor's lessons and how far each student is.
import { useQuery } from '@tanstack/react-query';
import { Button, Checkbox, Input, Select } from 'antd';
import { Fragment, useState } from 'react';
import { Link, useNavigate } from 'react-router';

import { api, ask, type Schemas } from '../../api/client';
import { Private } from '../../app/projector';
import { Shell } from '../../app/Shell';
import { isWaiting, sentence } from '../../app/Waiting';
import { useChange } from '../classes/useClasses';
import { EditLesson } from './EditLesson';
import { BANDS, isAsHard, matches, type Band } from './find';
import { GiveOut } from './GiveOut';
import './Lessons.css';

/** How often one looks whether something has been worked out. */
const LOOK_MS = 3000;

type Item = Schemas['LessonItem'];

export default function Lessons() {
  const lessons = useQuery({ queryKey: ['lessons'], queryFn: () => ask(api.GET('/api/lessons')) });
  const navigate = useNavigate();
  const [words, setWords] = useState('');
  const [band, setBand] = useState<Band>('any');
  const [away, setAway] = useState(false);
  const { change, error } = useChange();
  const tryIt = async (id: number) => {
    const attempt = await ask(api.POST('/api/lessons/{id}/try', { params: { path: { id } } }));
    void navigate(`/attempts/${attempt.id}`);
  };
  const path = (lesson: Item) => ({ params: { path: { id: lesson.id } } });
  const copy = (lesson: Item) => change(() => ask(api.POST('/api/lessons/{id}/copy', path(lesson))));
  const putAway = (lesson: Item) => {
    const body = { folder: lesson.folder, put_away: !lesson.put_away };
    return change(() => ask(api.PUT('/api/lessons/{id}/folder', { ...path(lesson), body })));
  };
  const shown = lessons.data?.filter((l) => l.put_away === away && matches(l, words) && isAsHard(l, band)) ?? [];
  const folders = [...new Set(shown.map((l) => l.folder))].sort();
  const anyAway = lessons.data?.some((l) => l.put_away) ?? false;
  return (
    <Shell crumbs={[{ text: 'Lessons' }]}>
      <main className="page" tabIndex={0}>
        <h1>Lessons</h1>
        <p className="quiet">A lesson is made on the fault bench of a circuit and given to students there, or here.</p>
        <div className="row">
          <Input
            id="find-lesson"
            allowClear
            className="find-lesson"
            aria-label="Find a lesson by title, machine, system, fault, skill or folder"
            placeholder="Find by title, machine, system, fault, skill"
            value={words}
            onChange={(e) => setWords(e.target.value)}
          />
          <Select
            id="find-hard"
            aria-label="How hard"
            className="how-hard"
            value={band}
            onChange={setBand}
            options={BANDS.map(({ value, label }) => ({ value, label }))}
          />
          {(anyAway || away) && (
            <Checkbox checked={away} onChange={(e) => setAway(e.target.checked)}>
              Those put away
            </Checkbox>
          )}
        </div>
        <div role="alert" className="error-line">
          {error}
        </div>
        {lessons.error && <p className="error-line">{lessons.error.message}</p>}
        {lessons.data?.length === 0 && <p>No lesson yet. Open a circuit, set a fault, and save it as a lesson.</p>}
        {lessons.data && lessons.data.length > 0 && shown.length === 0 && <p>No lesson is like this.</p>}
        {folders.map((folder) => (
          <Fragment key={folder}>
            {folder && <h2 className="apart folder">{folder}</h2>}
            {shown
              .filter((l) => l.folder === folder)
              .map((lesson) => (
                <section key={lesson.id} className="apart" data-lesson={lesson.title}>
                  <h2>
                    {lesson.title}{' '}
                    <span className="bad light">
                      <Private instead="">{lesson.fault}</Private>
                    </span>
                  </h2>
                  <div className="row at-the-right">
                    <GiveOut lesson={lesson.id} title={lesson.title} />
                    <EditLesson lesson={lesson} />
                    <Button size="small" onClick={() => void copy(lesson)} aria-label={`Copy ${lesson.title}`}>
                      Copy
                    </Button>
                    <Button
                      size="small"
                      onClick={() => void putAway(lesson)}
                      aria-label={`${lesson.put_away ? 'Take back' : 'Put away'} ${lesson.title}`}
                    >
                      {lesson.put_away ? 'Take back' : 'Put away'}
                    </Button>
                    <Button size="small" onClick={() => void tryIt(lesson.id)} data-try={lesson.id}>
                      Try it as a student does
                    </Button>
                  </div>
                  <p className="quiet tight">
                    {lesson.circuit}
                    {lesson.skills.length > 0 && ` · ${lesson.skills.join(', ')}`}
                    {lesson.version > 1 && ` · version ${lesson.version}`}
                    {lesson.on_earlier > 0 && ` · ${lesson.on_earlier} attempts keep an earlier one`}
                  </p>
                  {lesson.purpose === 'tools' ? (
                    <p className="quiet">A healthy machine to learn the tools on; nothing is marked.</p>
                  ) : !lesson.seeks_fault ? (
                    <p className="quiet">{lesson.asks}</p>
                  ) : (
                    <Prospect id={lesson.id} kept={lesson.prospect} />
                  )}
                  <AttemptsOf lesson={lesson} />
                </section>
              ))}
          </Fragment>
        ))}
      </main>
    </Shell>
  );
}

/** More than so many are folded away: a class or two. */
const FEW = 6;

function AttemptsOf({ lesson }: { lesson: Item }) {
  const { attempts } = lesson;
  const done = attempts.filter((a) => a.handed_in).length;
  const begun = attempts.filter((a) => a.steps > 0).length - done;
  const table = (
    <table className="sheet-table">
      <thead>
        <tr>
          <th>Student</th>
          <th>Class</th>
          <th>Steps</th>
          <th>Status</th>
          <th>Mark sheet</th>
        </tr>
      </thead>
      <tbody>
        {lesson.attempts.length === 0 && (
          <tr>
            <td colSpan={5} className="quiet">
              Given to nobody yet.
            </td>
          </tr>
        )}
        {lesson.attempts.map((a) => (
          <tr key={a.id}>
            <td>
              <Private>{a.student}</Private>{' '}
              <Link to={`/attempts/${a.id}/paper`} className="quiet">
                on paper
              </Link>
            </td>
            <td className="quiet">
              {a.class || 'own trial'}
              {a.no > 1 && `, attempt ${a.no}`}
            </td>
            <td className="mono">{a.steps}</td>
            <td>{a.handed_in ? 'handed in' : a.steps > 0 ? 'at work' : 'not begun'}</td>
            <td>
              {a.steps > 0 && lesson.purpose !== 'tools' ? (
                <Link to={`/attempts/${a.id}/sheet`}>{lesson.purpose === 'marks' ? 'Open' : 'Step by step'}</Link>
              ) : (
                '–'
              )}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
  if (attempts.length <= FEW) return table;
  return (
    <details>
      <summary>
        {attempts.length} attempts: {done} handed in, {begun} at work
      </summary>
      {table}
    </details>
  );
}

/** What the lesson can show: as it was worked out, or on demand. */
function Prospect({ id, kept }: { id: number; kept: Item['prospect'] }) {
  const [asked, setAsked] = useState(false);
  const told = useQuery({
    queryKey: ['prospect', id],
    queryFn: () => ask(api.GET('/api/lessons/{id}/prospect', { params: { path: { id } } })),
    staleTime: Infinity,
    enabled: asked,
    // It is worked out when nothing is more urgent: a look now and then is enough.
    refetchInterval: (query) => (isWaiting(query.state.data) ? LOOK_MS : false),
  });
  if (told.error) return <p className="error-line">{told.error.message}</p>;
  if (isWaiting(told.data)) {
    return <p className="quiet">What it can show is being worked out. {sentence(told.data)}</p>;
  }
  const known = told.data ?? kept;
  if (!known) {
    return (
      <p className="quiet close">
        How hard it is was not worked out yet.{' '}
        <Button type="link" size="small" loading={asked} onClick={() => setAsked(true)} data-work-out={id}>
          Work it out
        </Button>
      </p>
    );
  }
  const { plan, warning } = known;
  return (
    <p className="close" data-prospect={id}>
      {plan.begin.length} places possible after the complaint · proven in {plan.steps.length} readings,{' '}
      {plan.minutes.toFixed(0)} min · {plan.plausible} false leads
      {warning && <span className="bad"> · {warning}</span>}
    </p>
  );
}
