// One course: its lessons in order, what each practises and what was proven of it, and how far the classes are.
import { useQuery } from '@tanstack/react-query';
import { AutoComplete, Button, Input, InputNumber, Popconfirm, Select } from 'antd';
import { Fragment, useState } from 'react';
import { useParams } from 'react-router';

import { api, ask } from '../../api/client';
import { Private } from '../../app/projector';
import { Shell } from '../../app/Shell';
import { GiveOut } from '../lessons/GiveOut';
import { SkillMap, useCards, useSkills } from './SkillMap';
import {
  added,
  broughtTo,
  placesOf,
  stepped,
  unproven,
  useCourse,
  type Course,
  type Line,
  type Place,
} from './useCourse';
import './Course.css';

export default function CoursePage() {
  const id = Number(useParams().id);
  const { course, save, prove, proving, error } = useCourse(id);
  const [map, setMap] = useState(false);
  // Lines grow by the names of their skills: all are shown at once.
  const cards = useCards();
  const crumbs = [{ text: 'Courses', to: '/courses' }, { text: course.data?.title ?? '' }];
  if (course.error) return <Shell crumbs={crumbs}>{<p className="page error-line">{course.error.message}</p>}</Shell>;
  if (!course.data || cards.isPending) return <Shell crumbs={crumbs}>{<p className="page quiet">Opening …</p>}</Shell>;
  const data = course.data;
  const left = unproven(data).length;
  return (
    <Shell crumbs={crumbs}>
      <main className="page wide" tabIndex={0}>
        <Head course={data} save={save} />
        <div className="row">
          <Button aria-pressed={map} onClick={() => setMap(!map)} id="skill-map">
            {map ? 'Lessons' : 'Skills'}
          </Button>
          {left > 0 && (
            <Button onClick={() => void prove()} disabled={proving} id="prove">
              {proving ? `Working it out: ${left} to go` : `Prove the ${left} that were not worked out`}
            </Button>
          )}
          <Button onClick={() => void save({ put_away: !data.put_away })}>
            {data.put_away ? 'Take back' : 'Put away'}
          </Button>
          <a href={`/api/courses/${data.id}/document`} download>
            Export
          </a>
        </div>
        <div role="alert" className="error-line">
          {error}
        </div>
        {map ? <SkillMap course={data} /> : <Lessons course={data} save={save} />}
      </main>
    </Shell>
  );
}

type Save = ReturnType<typeof useCourse>['save'];

function Head({ course, save }: { course: Course; save: Save }) {
  const [named, setNamed] = useState<{ title: string; about: string }>();
  if (!named) {
    return (
      <>
        <div className="row">
          <h1>{course.title}</h1>
          <Button type="link" size="small" onClick={() => setNamed({ title: course.title, about: course.about })}>
            Change
          </Button>
        </div>
        {course.about && <p className="close">{course.about}</p>}
        <Takers course={course} />
      </>
    );
  }
  return (
    <form
      className="stack"
      onSubmit={(e) => {
        e.preventDefault();
        void save(named).then((done) => done && setNamed(undefined));
      }}
    >
      <label>
        <span className="field-label">Title</span>
        <Input value={named.title} onChange={(e) => setNamed({ ...named, title: e.target.value })} id="course-title" />
      </label>
      <label>
        <span className="field-label">What it is about</span>
        <Input.TextArea
          value={named.about}
          autoSize
          onChange={(e) => setNamed({ ...named, about: e.target.value })}
          id="course-about"
        />
      </label>
      <div className="row">
        <Button htmlType="submit" type="primary">
          Save
        </Button>
        <Button onClick={() => setNamed(undefined)}>Cancel</Button>
      </div>
    </form>
  );
}

function Takers({ course }: { course: Course }) {
  if (course.classes.length === 0)
    return <p className="quiet close">No class of yours takes it: choose it under Classes.</p>;
  const lessons = course.lessons.length;
  return (
    <ul className="takers" aria-label="Classes that take it">
      {course.classes.map((one) => {
        const done = one.done.filter((d) => d.given > 0 && d.handed_in === d.given).length;
        return (
          <li key={one.id}>
            {one.name}{' '}
            <span className="quiet">
              · {one.done.length} of {lessons} given out, {done} handed in by all
            </span>
          </li>
        );
      })}
    </ul>
  );
}

function Lessons({ course, save }: { course: Course; save: Save }) {
  const { lessons } = course;
  const places = placesOf(course);
  const order = (list: Place[]) => void save({ lessons: list });
  return (
    <>
      <table className="sheet-table course-table" aria-label="Lessons in order">
        <thead>
          <tr>
            <th className="number">No.</th>
            <th>Lesson</th>
            <th>Practises</th>
            <th>Proven</th>
            {course.classes.map((one) => (
              <th key={one.id} className="number of-class">
                {one.name}
              </th>
            ))}
            <th>
              <span className="visually-hidden">What to do</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {lessons.map((line, n) => (
            <Fragment key={line.lesson}>
              {line.chapter !== lessons[n - 1]?.chapter && (
                <tr className="chapter">
                  <th colSpan={5 + course.classes.length} scope="rowgroup">
                    <Chapter
                      name={line.chapter}
                      rename={(chapter) =>
                        save({ lessons: places.map((p) => (p.chapter === line.chapter ? { ...p, chapter } : p)) })
                      }
                    />
                  </th>
                </tr>
              )}
              <Row
                line={line}
                no={n + 1}
                course={course}
                up={n > 0 ? () => order(stepped(places, n, -1)) : undefined}
                down={n < lessons.length - 1 ? () => order(stepped(places, n, 1)) : undefined}
                bring={(to) => order(broughtTo(places, n, to - 1))}
                remove={() => order(places.filter((_, k) => k !== n))}
              />
            </Fragment>
          ))}
        </tbody>
      </table>
      {lessons.length === 0 && <p>No lesson yet: add those that were made.</p>}
      <AddLesson course={course} save={save} />
    </>
  );
}

/** The heading of a chapter, whose name can be changed. */
function Chapter({ name, rename }: { name: string; rename: (name: string) => Promise<boolean> }) {
  const [fresh, setFresh] = useState<string>();
  if (fresh === undefined) {
    return (
      <>
        {name}{' '}
        <Button type="link" size="small" aria-label={`Rename ${name}`} onClick={() => setFresh(name)}>
          Rename
        </Button>
      </>
    );
  }
  return (
    <form
      className="row"
      onSubmit={(e) => {
        e.preventDefault();
        void rename(fresh).then((done) => done && setFresh(undefined));
      }}
    >
      <Input
        aria-label="Name of the chapter"
        className="class-name"
        ref={(field) => field?.focus()}
        value={fresh}
        onChange={(e) => setFresh(e.target.value)}
        onKeyDown={(e) => e.key === 'Escape' && setFresh(undefined)}
      />
      <Button htmlType="submit" size="small">
        Rename
      </Button>
    </form>
  );
}

type RowProps = {
  line: Line;
  no: number;
  course: Course;
  up?: () => void;
  down?: () => void;
  /** Brings it to a number. */
  bring: (to: number) => void;
  remove: () => void;
};

function Row({ line, no, course, up, down, bring, remove }: RowProps) {
  const [to, setTo] = useState<number | null>(null);
  const go = () => {
    if (to !== null && to !== no) bring(to);
    setTo(null);
  };
  return (
    <tr data-course-lesson={line.title}>
      <td className="number">
        <InputNumber
          aria-label={`${line.title}: number`}
          className="place-number"
          variant="borderless"
          controls={false}
          min={1}
          max={course.lessons.length}
          value={to ?? no}
          onChange={setTo}
          onPressEnter={go}
          onBlur={go}
        />
      </td>
      <td>
        {line.title} <Kind line={line} />
        <div className="quiet small">
          {line.circuit}
          {line.fault && (
            <Private instead="">
              {' '}
              · <span className="bad">{line.fault}</span>
            </Private>
          )}
        </div>
        {line.too_early.map((text) => (
          <div key={text} className="bad small">
            {text}
          </div>
        ))}
      </td>
      <td>
        <Practises line={line} />
      </td>
      <td>
        <Proven line={line} />
      </td>
      {course.classes.map((one) => {
        const done = one.done.find((d) => d.lesson === line.lesson);
        return (
          <td key={one.id} className="number">
            {done ? `${done.handed_in}/${done.given}` : '–'}
          </td>
        );
      })}
      <td className="doings">
        <Button size="small" aria-label={`${line.title}: earlier`} disabled={!up} onClick={up}>
          ↑
        </Button>
        <Button size="small" aria-label={`${line.title}: later`} disabled={!down} onClick={down}>
          ↓
        </Button>
        <GiveOut lesson={line.lesson} title={line.title} />
        <Popconfirm
          title="Take it out of the course?"
          description="The lesson itself stays, and what was given out."
          okText="Take out"
          onConfirm={remove}
        >
          <Button size="small" aria-label={`Take out: ${line.title}`}>
            Take out
          </Button>
        </Popconfirm>
      </td>
    </tr>
  );
}

const KINDS: Record<string, string> = {
  tools: 'tools',
  practice: 'practice',
  check_up: 'check',
  check_up_or_sound: 'check',
};

function Kind({ line }: { line: Line }) {
  const kind = line.asks || (KINDS[line.purpose] ?? KINDS[line.job]);
  return kind ? <span className="kind">{kind}</span> : null;
}

function Practises({ line }: { line: Line }) {
  const name = useSkills();
  const shown = line.proof?.skills.filter((s) => !line.declared.includes(s.skill)) ?? [];
  return (
    <>
      {line.declared.map((skill) => (
        <span key={skill} className="skill">
          {name(skill)}
        </span>
      ))}
      {shown.length > 0 && (
        <details className="small quiet">
          <summary>and {shown.length} more</summary>
          {shown.map((s) => name(s.skill)).join(' · ')}
        </details>
      )}
    </>
  );
}

function Proven({ line }: { line: Line }) {
  if (!line.seeks_fault) return <span className="quiet">–</span>;
  if (!line.proof) return <span className="quiet">not worked out yet</span>;
  const { proof } = line;
  if (proof.hinders.length > 0) {
    return (
      <ul className="close bad">
        {proof.hinders.map((h) => (
          <li key={h.text}>{h.text}</li>
        ))}
      </ul>
    );
  }
  return (
    <>
      <div className="in-a-line">
        <span className="good">✓</span> {proof.minutes.toFixed(0)} min · {proof.readings}{' '}
        {proof.readings === 1 ? 'reading' : 'readings'}
      </div>
      <div className="quiet small in-a-line">
        {proof.places} places · {proof.misleading} {proof.misleading === 1 ? 'false lead' : 'false leads'}
      </div>
    </>
  );
}

function AddLesson({ course, save }: { course: Course; save: Save }) {
  const all = useQuery({ queryKey: ['lessons'], queryFn: () => ask(api.GET('/api/lessons')) });
  const [lesson, setLesson] = useState<number>();
  const [chapter, setChapter] = useState<string>();
  const there = new Set(course.lessons.map((l) => l.lesson));
  const could = all.data?.filter((l) => !l.put_away && !there.has(l.id)) ?? [];
  const last = course.lessons.at(-1)?.chapter ?? 'Lessons';
  const add = async () => {
    if (lesson === undefined) return;
    const one = { lesson, chapter: (chapter ?? last).trim() || last };
    if (await save({ lessons: added(placesOf(course), one) })) setLesson(undefined);
  };
  return (
    <div className="row add-lesson">
      <Select
        id="add-lesson"
        aria-label="A lesson to add"
        placeholder="A lesson to add"
        showSearch={{ optionFilterProp: 'label' }}
        value={lesson}
        onChange={setLesson}
        options={could.map((l) => ({ value: l.id, label: l.title }))}
      />
      <AutoComplete
        aria-label="Its chapter: one that is there, or a new one"
        value={chapter ?? last}
        onChange={setChapter}
        options={[...new Set(course.lessons.map((l) => l.chapter))].map((value) => ({ value }))}
        className="class-name"
      />
      <Button onClick={() => void add()} disabled={lesson === undefined} id="add-to-course">
        Add
      </Button>
    </div>
  );
}
