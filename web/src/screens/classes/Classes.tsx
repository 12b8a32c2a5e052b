// One's classes: who is in them, and what was given out.
import { Button, Input, Modal, Popconfirm, Select } from 'antd';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';

import { api, ask } from '../../api/client';
import { is, useMe } from '../../app/me';
import { Private } from '../../app/projector';
import { Shell } from '../../app/Shell';
import { CodeOf } from './CodeOf';
import './Classes.css';
import { OpenLooks } from './OpenLooks';
import { inWords, Terms, type TermsOf } from './Terms';
import { useAssignments, useChange, useClasses, type Assignment, type Class } from './useClasses';

const ROLES = ['student', 'assistant', 'instructor'] as const;

export default function Classes() {
  const me = useMe().data;
  const classes = useClasses();
  const given = useAssignments();
  const { change, error } = useChange();
  const [name, setName] = useState('');
  const makes = is(me, 'administrator', 'instructor');
  return (
    <Shell crumbs={[{ text: 'Classes' }]}>
      <main className="page" tabIndex={0}>
        <h1>Classes</h1>
        {is(me, 'instructor') && <OpenLooks />}
        {classes.error && <p className="error-line">{classes.error.message}</p>}
        {classes.data?.length === 0 && <p>No class yet. Make one, and take students into it under People.</p>}
        {makes && (
          <form
            className="row"
            onSubmit={(e) => {
              e.preventDefault();
              const make = () => ask(api.POST('/api/classes', { body: { name } }));
              void change(make).then((done) => done && setName(''));
            }}
          >
            <Input
              id="new-class"
              aria-label="Name of a new class"
              placeholder="Name of a new class"
              className="class-name"
              value={name}
              onChange={(e) => setName(e.target.value)}
            />
            <Button htmlType="submit" disabled={name.trim() === ''}>
              Make a class
            </Button>
          </form>
        )}
        <div role="alert" className="error-line">
          {error}
        </div>
        {classes.data?.map((one) => (
          <OneClass key={one.id} one={one} given={given.data?.filter((a) => a.class === one.id) ?? []} />
        ))}
      </main>
    </Shell>
  );
}

function OneClass({ one, given }: { one: Class; given: Assignment[] }) {
  const me = useMe().data;
  const { change, error } = useChange();
  const [renamed, setRenamed] = useState<string>();
  const teaches = one.own_role === 'instructor';
  const manages = teaches || is(me, 'administrator');
  const path = { params: { path: { id: one.id } } };
  const save = (name: string, over: boolean) =>
    change(() => ask(api.PUT('/api/classes/{id}', { ...path, body: { name, over } })));
  return (
    <section className="apart" data-class={one.name}>
      <div className="row">
        {renamed === undefined ? (
          <h2>
            {one.name} {one.over && <span className="quiet light">over</span>}
          </h2>
        ) : (
          <form
            className="row"
            onSubmit={(e) => {
              e.preventDefault();
              void save(renamed, one.over).then((done) => done && setRenamed(undefined));
            }}
          >
            <Input
              aria-label="Name of the class"
              ref={(field) => field?.focus()}
              value={renamed}
              onChange={(e) => setRenamed(e.target.value)}
              onKeyDown={(e) => e.key === 'Escape' && setRenamed(undefined)}
            />
            <Button htmlType="submit">Rename</Button>
          </form>
        )}
        {one.own_role && renamed === undefined && (
          <>
            <Link to={`/classes/${one.id}/book`} aria-label={`Book of marks of ${one.name}`}>
              Book of marks
            </Link>
            <Link to={`/classes/${one.id}/insight`} aria-label={`Insight into ${one.name}`}>
              Insight
            </Link>
            <CodeOf one={one} change={change} />
          </>
        )}
        {manages && renamed === undefined && (
          <>
            <Button type="link" size="small" onClick={() => setRenamed(one.name)} aria-label={`Rename ${one.name}`}>
              Rename
            </Button>
            <Button
              type="link"
              size="small"
              onClick={() => void save(one.name, !one.over)}
              aria-label={`${one.over ? 'Goes on' : 'Is over'}: ${one.name}`}
            >
              {one.over ? 'Goes on' : 'Is over'}
            </Button>
          </>
        )}
      </div>
      <div role="alert" className="error-line">
        {error}
      </div>
      {teaches && <CourseOf one={one} change={change} />}
      <Members one={one} manages={manages} change={change} />
      {one.own_role && <GivenOut given={given} teaches={teaches} change={change} />}
    </section>
  );
}

type Change = ReturnType<typeof useChange>['change'];

/** The course that a class takes. */
function CourseOf({ one, change }: { one: Class; change: Change }) {
  const courses = useQuery({ queryKey: ['courses'], queryFn: () => ask(api.GET('/api/courses')) });
  if (!courses.data?.some((c) => !c.put_away) && !one.course) return null;
  const take = (course: number | undefined) =>
    change(() =>
      ask(
        api.PUT('/api/classes/{id}/course', {
          params: { path: { id: one.id } },
          body: { course: course ?? null },
        }),
      ),
    );
  return (
    <div className="row">
      <span className="quiet">Course</span>
      <Select
        allowClear
        size="small"
        className="course-of"
        aria-label={`Course of ${one.name}`}
        placeholder="No course"
        value={one.course ?? undefined}
        onChange={(course: number | undefined) => void take(course)}
        options={courses.data
          ?.filter((c) => !c.put_away || c.id === one.course)
          .map((c) => ({ value: c.id, label: c.title }))}
      />
      {one.course && <Link to={`/courses/${one.course}`}>Open the course</Link>}
    </div>
  );
}

function Members({ one, manages, change }: { one: Class; manages: boolean; change: Change }) {
  const people = useQuery({
    queryKey: ['people'],
    queryFn: () => ask(api.GET('/api/people')),
    enabled: manages,
  });
  const [role, setRole] = useState<(typeof ROLES)[number]>('student');
  const inIt = new Set(one.members.map((m) => m.id));
  const could = people.data?.filter((p) => !p.left && !inIt.has(p.id) && p.roles.includes(role)) ?? [];
  const path = (person: number) => ({ params: { path: { id: one.id, person } } });
  return (
    <div className="class-members">
      {ROLES.toReversed().map((r) => {
        const those = one.members.filter((m) => m.role === r);
        if (those.length === 0) return null;
        return (
          <p key={r} className="tight">
            <span className="quiet">{those.length === 1 ? r : `${those.length} ${r}s`}: </span>
            {those.map((m) => (
              <span key={m.id} className={m.left ? 'member quiet' : 'member'}>
                <Private>{m.display}</Private>
                {m.left && ' (left)'}
                {manages && (
                  <Popconfirm
                    title={`Take ${m.display} out of ${one.name}?`}
                    description="What they did stays; what they have not begun is taken back."
                    okText="Take out"
                    cancelText="Leave"
                    onConfirm={() =>
                      void change(() => ask(api.DELETE('/api/classes/{id}/members/{person}', path(m.id))))
                    }
                  >
                    <Button type="text" size="small" aria-label={`Take out ${m.display}`}>
                      ×
                    </Button>
                  </Popconfirm>
                )}
              </span>
            ))}
          </p>
        );
      })}
      {manages && (
        <div className="row">
          <span className="quiet">Take in as</span>
          <Select
            size="small"
            aria-label={`Take into ${one.name} as`}
            value={role}
            options={ROLES.map((r) => ({ value: r, label: r }))}
            onChange={setRole}
          />
          <Select
            size="small"
            className="class-name"
            aria-label={`Take into ${one.name}`}
            placeholder={could.length === 0 ? `no other ${role} in the school` : 'who'}
            value={null}
            showSearch={{ optionFilterProp: 'label' }}
            options={could.map((p) => ({ value: p.id, label: p.display }))}
            onChange={(person: number | null) => {
              if (person === null) return;
              const body = { role };
              void change(() => ask(api.PUT('/api/classes/{id}/members/{person}', { ...path(person), body })));
            }}
          />
          <Link to={`/people?class=${one.id}`}>Add new students</Link>
        </div>
      )}
    </div>
  );
}

function GivenOut({ given, teaches, change }: { given: Assignment[]; teaches: boolean; change: Change }) {
  const [changing, setChanging] = useState<{ id: number; title: string; terms: TermsOf }>();
  const path = (id: number) => ({ params: { path: { id } } });
  if (given.length === 0) return <p className="quiet">Nothing given out yet.</p>;
  return (
    <>
      <table className="sheet-table">
        <thead>
          <tr>
            <th>Given out</th>
            <th>Terms</th>
            <th>Handed in</th>
            <th />
            <th />
          </tr>
        </thead>
        <tbody>
          {given.map((a) => (
            <tr key={a.id} data-assignment={a.title}>
              <td>
                {a.title}
                {a.dealt > 0 ? (
                  <span className="quiet"> {a.dealt} faults dealt</span>
                ) : (
                  !a.whole_class && <span className="quiet"> to some</span>
                )}
              </td>
              <td className="quiet">{inWords(a.terms, a.released)}</td>
              <td className="number">
                {a.handed_in} of {a.given}
              </td>
              <td className="ways">
                <Link to={`/assignments/${a.id}/live`} aria-label={`Live: ${a.title}`}>
                  Live
                </Link>{' '}
                {a.handed_in > 0 && (
                  <>
                    <Link to={`/assignments/${a.id}/debriefs`} aria-label={`Debrief: ${a.title}`}>
                      Debrief
                    </Link>{' '}
                    <Link to={`/assignments/${a.id}/insight`} aria-label={`Insight: ${a.title}`}>
                      Insight
                    </Link>
                  </>
                )}
              </td>
              <td>
                {teaches && (
                  <>
                    <Button
                      type="link"
                      size="small"
                      aria-label={`Change: terms of ${a.title}`}
                      onClick={() => setChanging({ id: a.id, title: a.title, terms: a.terms })}
                    >
                      Change
                    </Button>
                    <Button
                      type="link"
                      size="small"
                      aria-label={`${a.released ? 'Hide marks' : 'Release marks'}: ${a.title}`}
                      onClick={() =>
                        void change(() =>
                          ask(
                            a.released
                              ? api.DELETE('/api/assignments/{id}/release', path(a.id))
                              : api.PUT('/api/assignments/{id}/release', path(a.id)),
                          ),
                        )
                      }
                    >
                      {a.released ? 'Hide marks' : 'Release marks'}
                    </Button>
                    <Popconfirm
                      title={`Take back ${a.title}?`}
                      description="Only what nobody has begun can be taken back."
                      okText="Take back"
                      cancelText="Leave"
                      onConfirm={() => void change(() => ask(api.DELETE('/api/assignments/{id}', path(a.id))))}
                    >
                      <Button type="link" size="small" aria-label={`Take back ${a.title}`}>
                        Take back
                      </Button>
                    </Popconfirm>
                  </>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <Modal
        title={changing ? `Terms of ${changing.title}` : ''}
        width={680}
        open={changing !== undefined}
        okText="Change"
        okButtonProps={{ id: 'change-terms' }}
        onCancel={() => setChanging(undefined)}
        onOk={() => {
          if (!changing) return;
          const body = changing.terms;
          const done = change(() => ask(api.PUT('/api/assignments/{id}', { ...path(changing.id), body })));
          void done.then((ok) => ok && setChanging(undefined));
        }}
        destroyOnHidden
      >
        {changing && <Terms terms={changing.terms} onChange={(terms) => setChanging({ ...changing, terms })} />}
      </Modal>
    </>
  );
}
