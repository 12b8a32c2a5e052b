// The school's people: adding students, their passwords, who has left.
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Button, Input, Popconfirm } from 'antd';
import { useState } from 'react';

import { api, ask, type Schemas } from '../../api/client';
import { Shell } from '../../app/Shell';
import { Cards } from './Cards';
import { readNames } from './names';
import './People.css';

type Person = Schemas['PersonView'];

export default function People() {
  const queries = useQueryClient();
  const people = useQuery({ queryKey: ['people'], queryFn: () => ask(api.GET('/api/people')) });
  const [text, setText] = useState('');
  const [error, setError] = useState('');
  const [told, setTold] = useState<Schemas['Told'][]>([]);
  const attempt = async (what: () => Promise<unknown>) => {
    setError('');
    try {
      await what();
      await queries.invalidateQueries({ queryKey: ['people'] });
      await queries.invalidateQueries({ queryKey: ['students'] });
    } catch (e) {
      setError((e as Error).message);
    }
  };
  const add = () =>
    attempt(async () => {
      setTold(await ask(api.POST('/api/people', { body: { students: readNames(text) } })));
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
  const count = readNames(text).length;
  return (
    <Shell crumbs={[{ text: 'People' }]}>
      <main className="page" tabIndex={0}>
        <h1>People</h1>
        {told.length > 0 ? (
          <Cards told={told} onDone={() => setTold([])} />
        ) : (
          <div className="no-print">
            <form
              className="people-add stack"
              onSubmit={(e) => {
                e.preventDefault();
                void add();
              }}
            >
              <label>
                <span className="field-label">
                  Students to add, one a line; a name to sign in with may stand behind a comma
                </span>
                <Input.TextArea
                  id="new-students"
                  value={text}
                  onChange={(e) => setText(e.target.value)}
                  autoSize={{ minRows: 3, maxRows: 12 }}
                />
              </label>
              <div className="row">
                <Button id="add-students" htmlType="submit" type="primary" disabled={count === 0}>
                  {count > 1 ? `Add ${count} students` : 'Add student'}
                </Button>
                <span className="quiet">A password is made for each and shown once.</span>
              </div>
            </form>
            <div role="alert" className="error-line">
              {error && `${error[0]?.toUpperCase()}${error.slice(1)}.`}
            </div>
            {people.error && <p className="error-line">{people.error.message}</p>}
            <table className="sheet-table">
              <thead>
                <tr>
                  <th>Name</th>
                  <th>Signs in as</th>
                  <th>Role</th>
                  <th />
                </tr>
              </thead>
              <tbody>
                {people.data?.map((p) => (
                  <tr key={p.id} data-person={p.name} className={p.left ? 'quiet' : undefined}>
                    <td>{p.display}</td>
                    <td>{p.name}</td>
                    <td>{p.left ? `${p.role}, left` : p.role}</td>
                    <td>
                      {p.role === 'student' && (
                        <>
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
                          <Button
                            type="link"
                            size="small"
                            aria-label={`${p.left ? 'Is back' : 'Has left'}: ${p.display}`}
                            onClick={() => void leave(p, !p.left)}
                          >
                            {p.left ? 'Is back' : 'Has left'}
                          </Button>
                        </>
                      )}
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
        )}
      </main>
    </Shell>
  );
}
