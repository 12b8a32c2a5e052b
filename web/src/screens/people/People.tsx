// The school's people: adding students, their passwords, who has left.
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Button, Checkbox, Input, Popconfirm, Select } from 'antd';
import { useState } from 'react';
import { useSearchParams } from 'react-router';

import { api, ask, sentenceOf, type Schemas } from '../../api/client';
import { is, useMe, type Role } from '../../app/me';
import { PrivatePart } from '../../app/projector';
import { Shell } from '../../app/Shell';
import { useClasses } from '../classes/useClasses';
import { Audit } from './Audit';
import { Cards } from './Cards';
import { MarkScale } from './MarkScale';
import { PersonMore } from './PersonMore';
import { Retention } from './Retention';
import { readNames } from './names';
import { TakeRoster } from './TakeRoster';
import './People.css';

type Person = Schemas['PersonView'];

const ROLES: Role[] = ['administrator', 'instructor', 'assistant', 'student'];

export default function People() {
  const queries = useQueryClient();
  const people = useQuery({ queryKey: ['people'], queryFn: () => ask(api.GET('/api/people')) });
  const me = useMe().data;
  const administers = is(me, 'administrator');
  const [asked] = useSearchParams();
  const classes = useClasses().data?.filter((c) => !c.over && (administers || c.own_role === 'instructor')) ?? [];
  const [into, setInto] = useState<number | null | undefined>(Number(asked.get('class')) || undefined);
  const [roles, setRoles] = useState<Role[]>(['student']);
  const [changing, setChanging] = useState<{ id: number; display: string; roles: Role[] }>();
  const [text, setText] = useState('');
  const [error, setError] = useState('');
  const [told, setTold] = useState<Schemas['Told'][]>([]);
  const attempt = async (what: () => Promise<unknown>) => {
    setError('');
    try {
      await what();
      await queries.invalidateQueries({ queryKey: ['people'] });
      await queries.invalidateQueries({ queryKey: ['classes'] });
    } catch (e) {
      setError(sentenceOf(e));
    }
  };
  const add = () =>
    attempt(async () => {
      const learn = roles.includes('student') && roles.length === 1;
      const body = { people: readNames(text), class: learn ? klass : undefined, roles: learn ? undefined : roles };
      setTold(await ask(api.POST('/api/people', { body })));
      setText('');
    });
  const reset = (p: Person) =>
    attempt(async () =>
      setTold([await ask(api.POST('/api/people/{id}/password', { params: { path: { id: p.id } } }))]),
    );
  const leave = (p: Person, left: boolean) => {
    const path = { params: { path: { id: p.id } } };
    return attempt(() =>
      ask(left ? api.PUT('/api/people/{id}/left', path) : api.DELETE('/api/people/{id}/left', path)),
    );
  };
  // An administrator may take somebody into the school and into no class yet.
  const klass = into === undefined ? classes.find((c) => c.own_role === 'instructor')?.id : (into ?? undefined);
  const count = readNames(text).length;
  const what = roles.includes('student') && roles.length === 1 ? 'student' : 'colleague';
  const change = () =>
    attempt(async () => {
      if (!changing) return;
      const { id, display, roles } = changing;
      await ask(api.PUT('/api/people/{id}', { params: { path: { id } }, body: { display, roles } }));
      setChanging(undefined);
    });
  // Instructors look after students; who is somebody else, an administrator does.
  const looksAfter = (p: Person) => administers || (p.roles.length === 1 && p.roles[0] === 'student');
  return (
    <Shell crumbs={[{ text: 'People' }]}>
      <main className="page" tabIndex={0}>
        <div className="row">
          <h1>People</h1>
          {administers && (
            <>
              <TakeRoster />
              <MarkScale />
              <Retention />
              <Audit />
            </>
          )}
        </div>
        <PrivatePart what="People are">
          {told.length > 0 ? (
            <Cards told={told} onDone={() => setTold([])} />
          ) : (
            <div className="no-print">
              {(administers || classes.length > 0) && (
                <form
                  className="people-add stack"
                  onSubmit={(e) => {
                    e.preventDefault();
                    void add();
                  }}
                >
                  <label>
                    <span className="field-label">
                      People to add, one a line; a name to sign in with may stand behind a comma
                    </span>
                    <Input.TextArea
                      id="new-students"
                      value={text}
                      onChange={(e) => setText(e.target.value)}
                      autoSize={{ minRows: 3, maxRows: 12 }}
                    />
                  </label>
                  {administers && (
                    <Checkbox.Group
                      aria-label="As"
                      value={roles}
                      onChange={(chosen) => setRoles(chosen)}
                      options={ROLES.map((role) => ({ value: role, label: role }))}
                    />
                  )}
                  <div className="row">
                    <Button
                      id="add-students"
                      htmlType="submit"
                      type="primary"
                      disabled={count === 0 || roles.length === 0 || (!administers && klass === undefined)}
                    >
                      {count > 1 ? `Add ${count} ${what}s` : `Add ${what}`}
                    </Button>
                    {what === 'student' && classes.length > 0 && (
                      <>
                        <span className="quiet">to</span>
                        <Select
                          id="into-class"
                          aria-label="To the class"
                          className="into-class"
                          value={klass}
                          allowClear={administers}
                          placeholder="no class yet"
                          options={classes.map((c) => ({ value: c.id, label: c.name }))}
                          onChange={(id: number | undefined) => setInto(id ?? null)}
                        />
                      </>
                    )}
                    <span className="quiet">A password is made for each and shown once.</span>
                  </div>
                </form>
              )}
              <div role="alert" className="error-line">
                {error}
              </div>
              {people.error && <p className="error-line">{people.error.message}</p>}
              <table className="sheet-table">
                <thead>
                  <tr>
                    <th>Name</th>
                    <th>Signs in as</th>
                    <th>Is</th>
                    <th />
                  </tr>
                </thead>
                <tbody>
                  {people.data?.map((p) => (
                    <tr key={p.id} data-person={p.name} className={p.left ? 'quiet' : undefined}>
                      <td>
                        {changing?.id === p.id ? (
                          <Input
                            aria-label={`Name of ${p.name}`}
                            value={changing.display}
                            onChange={(e) => setChanging({ ...changing, display: e.target.value })}
                            onPressEnter={() => void change()}
                          />
                        ) : (
                          p.display
                        )}
                      </td>
                      <td>{p.name}</td>
                      <td>
                        {changing?.id === p.id && administers ? (
                          <Checkbox.Group
                            aria-label={`What ${p.display} is`}
                            value={changing.roles}
                            onChange={(chosen) => setChanging({ ...changing, roles: chosen })}
                            options={ROLES.map((role) => ({ value: role, label: role }))}
                          />
                        ) : (
                          [...p.roles, ...(p.left ? ['left'] : [])].join(', ')
                        )}
                      </td>
                      <td>
                        {changing?.id === p.id && (
                          <>
                            <Button type="link" size="small" onClick={() => void change()}>
                              Save
                            </Button>
                            <Button type="link" size="small" onClick={() => setChanging(undefined)}>
                              Leave it
                            </Button>
                          </>
                        )}
                        {changing?.id !== p.id && looksAfter(p) && (
                          <>
                            <Button
                              type="link"
                              size="small"
                              aria-label={`Change: ${p.display}`}
                              onClick={() => setChanging({ id: p.id, display: p.display, roles: p.roles as Role[] })}
                            >
                              Change
                            </Button>
                            {!p.left && (
                              <Popconfirm
                                title={`Make a new password for ${p.display}?`}
                                description="The present one no longer works."
                                okText="Make it"
                                cancelText="Leave it"
                                onConfirm={() => void reset(p)}
                              >
                                <Button type="link" size="small" aria-label={`New password: ${p.display}`}>
                                  New password
                                </Button>
                              </Popconfirm>
                            )}
                            {!p.left && p.roles.join() === 'student' && (
                              <Popconfirm
                                title={`Let ${p.display} set a new PIN?`}
                                description="The next that they type becomes theirs."
                                okText="Let them"
                                cancelText="Leave it"
                                onConfirm={() =>
                                  void attempt(() =>
                                    ask(api.DELETE('/api/people/{id}/pin', { params: { path: { id: p.id } } })),
                                  )
                                }
                              >
                                <Button type="link" size="small" aria-label={`New PIN: ${p.display}`}>
                                  New PIN
                                </Button>
                              </Popconfirm>
                            )}
                            <Button
                              type="link"
                              size="small"
                              aria-label={`${p.left ? 'Is back' : 'Has left'}: ${p.display}`}
                              onClick={() => void leave(p, !p.left)}
                            >
                              {p.left ? 'Is back' : 'Has left'}
                            </Button>
                            <PersonMore person={p} people={people.data} administers={administers} />
                          </>
                        )}
                      </td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </div>
          )}
        </PrivatePart>
      </main>
    </Shell>
  );
}
