// The instructor's circuits.
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Button, Checkbox, Input, Popconfirm } from 'antd';
import { useEffect, useRef, useState } from 'react';
import { Link, useNavigate } from 'react-router';

import { api, ask, type Schemas } from '../../api/client';
import { FileButton } from '../../app/FileButton';
import { Shell } from '../../app/Shell';
import './Circuits.css';

type Item = Schemas['CircuitItem'];

export default function Circuits() {
  const circuits = useQuery({ queryKey: ['circuits'], queryFn: () => ask(api.GET('/api/circuits')) });
  const navigate = useNavigate();
  const queries = useQueryClient();
  const [asked, setAsked] = useState(false);
  const [words, setWords] = useState('');
  const [away, setAway] = useState(false);
  const standing = circuits.data?.filter((c) => !c.put_away);
  const anyAway = circuits.data?.some((c) => c.put_away) ?? false;
  // Who has none yet is asked at once.
  const begins = asked || (standing?.length === 0 && !away);
  const starts = useQuery({
    queryKey: ['starts'],
    queryFn: () => ask(api.GET('/api/circuits/starts')),
    staleTime: Infinity,
    enabled: begins,
  });
  const list = useRef<HTMLElement>(null);
  // Who opens the list goes on in it.
  useEffect(() => {
    if (asked && starts.data) list.current?.querySelector('button')?.focus();
  }, [asked, starts.data]);
  const make = useMutation({
    mutationFn: (body: Schemas['NewCircuit']) => ask(api.POST('/api/circuits', { body })),
    onSuccess: (made) => navigate(`/circuits/${made.id}/workshop`),
  });
  const change = useMutation({
    mutationFn: (act: () => Promise<unknown>) => act(),
    onSettled: () => queries.invalidateQueries({ queryKey: ['circuits'] }),
  });
  const path = (c: Item) => ({ params: { path: { id: c.id } } });
  const file = (c: Item) =>
    change.mutate(() => ask(api.PUT('/api/circuits/{id}/put-away', { ...path(c), body: { put_away: !c.put_away } })));
  const remove = (c: Item) => change.mutate(() => ask(api.DELETE('/api/circuits/{id}', path(c))));
  const looked = words.toLowerCase().split(/\s+/);
  const shown = circuits.data?.filter(
    (c) => c.put_away === away && looked.every((word) => c.title.toLowerCase().includes(word)),
  );
  const failed = (make.error ?? change.error)?.message.split('\n') ?? [];
  return (
    <Shell crumbs={[{ text: 'Circuits' }]}>
      <main className="page" tabIndex={0}>
        <h1>Circuits</h1>
        <p className="quiet">Open one to set a fault and see every reading it leads to.</p>
        <div className="row">
          <Button id="new-circuit" aria-expanded={begins} onClick={() => setAsked(!asked)}>
            New circuit …
          </Button>
          <FileButton
            id="import"
            className="ant-btn"
            accept=".json,application/json"
            onText={(text) =>
              make.mutateAsync({ text }).then(
                () => undefined,
                () => undefined,
              )
            }
          >
            Import circuit …
          </FileButton>
          <Input
            id="find-circuit"
            allowClear
            className="find-circuit"
            aria-label="Find a circuit by its title"
            placeholder="Find by title"
            value={words}
            onChange={(e) => setWords(e.target.value)}
          />
          {(anyAway || away) && (
            <Checkbox checked={away} onChange={(e) => setAway(e.target.checked)}>
              Those put away
            </Checkbox>
          )}
        </div>
        {begins && (
          <section aria-label="New circuit" className="starts" ref={list}>
            {starts.data?.circuits.map((s) => (
              <Beginning
                key={s.id}
                id={s.id}
                title={s.title}
                about={s.about}
                onClick={() => make.mutate({ start: s.id })}
              />
            ))}
            <Beginning
              id="nothing"
              title="Nothing"
              about="An empty sheet: type a first path, or take parts from the shelf."
              onClick={() => make.mutate({ title: 'New circuit' })}
            />
          </section>
        )}
        {failed.map((line) => (
          <p key={line} className="error-line" role="alert">
            {line}
          </p>
        ))}
        {circuits.error && (
          <p className="error-line" role="alert">
            {circuits.error.message}{' '}
            <Button size="small" onClick={() => void circuits.refetch()}>
              Try again
            </Button>
          </p>
        )}
        {/* Its columns are as wide as what is in them: without that they would move. */}
        {shown && (
          <table className="sheet-table">
            <thead>
              <tr>
                <th>Circuit</th>
                <th>Changed</th>
                <th />
              </tr>
            </thead>
            <tbody>
              {shown.length === 0 && (
                <tr>
                  <td colSpan={3} className="quiet">
                    {words.trim() ? 'No circuit has such a title.' : away ? 'None is put away.' : 'No circuit yet.'}
                  </td>
                </tr>
              )}
              {shown.map((c) => (
                <tr key={c.id}>
                  <td>
                    <Link to={`/circuits/${c.id}/fault-bench`}>{c.title}</Link>
                  </td>
                  <td className="quiet">{new Date(c.updated_at * 1000).toLocaleDateString()}</td>
                  <td>
                    <div className="circuit-doings">
                      <Link to={`/circuits/${c.id}/workshop`} aria-label={`Workshop: ${c.title}`}>
                        Workshop
                      </Link>
                      <Link to={`/circuits/${c.id}/lessons`} aria-label={`Make lessons: ${c.title}`}>
                        Make lessons
                      </Link>
                      <Button
                        type="link"
                        size="small"
                        className="bare-link"
                        aria-label={`Copy: ${c.title}`}
                        onClick={() => make.mutate({ copy_of: c.id, title: `${c.title}, copy` })}
                      >
                        Copy
                      </Button>
                      <Button
                        type="link"
                        size="small"
                        className="bare-link"
                        aria-label={`${c.put_away ? 'Take back' : 'Put away'}: ${c.title}`}
                        onClick={() => file(c)}
                      >
                        {c.put_away ? 'Take back' : 'Put away'}
                      </Button>
                      {c.put_away && (
                        <Popconfirm
                          title={`Delete “${c.title}” for good?`}
                          description="Its earlier versions go with it. Lessons made from it keep their own circuit."
                          okText="Delete"
                          cancelText="Keep"
                          onConfirm={() => remove(c)}
                        >
                          <Button
                            type="link"
                            size="small"
                            danger
                            className="bare-link"
                            aria-label={`Delete: ${c.title}`}
                          >
                            Delete
                          </Button>
                        </Popconfirm>
                      )}
                    </div>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
      </main>
    </Shell>
  );
}

/** Something to begin with, as a wide button. */
function Beginning(props: { id: string; title: string; about: string; onClick: () => void }) {
  return (
    <button type="button" id={`start-${props.id}`} className="beginning" onClick={props.onClick}>
      <b>{props.title}</b>
      <span className="quiet">{props.about}</span>
    </button>
  );
}
