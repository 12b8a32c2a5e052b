// The instructor's circuits.
import { useQuery } from '@tanstack/react-query';
import { Button } from 'antd';
import { useEffect, useRef, useState } from 'react';
import { Link, useNavigate } from 'react-router';

import { api, ask, type Schemas } from '../../api/client';
import { FileButton } from '../../app/FileButton';
import { Shell } from '../../app/Shell';
import './Circuits.css';

export default function Circuits() {
  const circuits = useQuery({ queryKey: ['circuits'], queryFn: () => ask(api.GET('/api/circuits')) });
  const navigate = useNavigate();
  const [error, setError] = useState<string[]>([]);
  const [asked, setAsked] = useState(false);
  // Who has none yet is asked at once.
  const begins = asked || circuits.data?.length === 0;
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
  const make = async (body: Schemas['NewCircuit']) => {
    try {
      const made = await ask(api.POST('/api/circuits', { body }));
      void navigate(`/circuits/${made.id}/workshop`);
    } catch (e) {
      setError((e as Error).message.split('\n'));
    }
  };
  return (
    <Shell crumbs={[{ text: 'Circuits' }]}>
      <main className="page" tabIndex={0}>
        <h1>Circuits</h1>
        <p className="quiet">Open one to set a fault and see every reading it leads to.</p>
        <div className="row">
          <Button id="new-circuit" aria-expanded={begins} onClick={() => setAsked(!asked)}>
            New circuit …
          </Button>
          <FileButton id="import" className="ant-btn" accept=".json,application/json" onText={(text) => make({ text })}>
            Import circuit …
          </FileButton>
        </div>
        {begins && (
          <section aria-label="New circuit" className="starts" ref={list}>
            {starts.data?.circuits.map((s) => (
              <Beginning
                key={s.id}
                id={s.id}
                title={s.title}
                about={s.about}
                onClick={() => void make({ start: s.id })}
              />
            ))}
            <Beginning
              id="nothing"
              title="Nothing"
              about="An empty sheet: type a first path, or take parts from the shelf."
              onClick={() => void make({ title: 'New circuit' })}
            />
          </section>
        )}
        {error.map((line) => (
          <p key={line} className="error-line" role="alert">
            {line}
          </p>
        ))}
        {circuits.error && <p className="error-line">{circuits.error.message}</p>}
        <table className="sheet-table">
          <thead>
            <tr>
              <th>Circuit</th>
              <th>Changed</th>
              <th />
            </tr>
          </thead>
          <tbody>
            {circuits.data?.map((c) => (
              <tr key={c.id}>
                <td>
                  <Link to={`/circuits/${c.id}/fault-bench`}>{c.title}</Link>
                </td>
                <td className="quiet">{new Date(c.updated_at * 1000).toLocaleDateString()}</td>
                <td>
                  <Link to={`/circuits/${c.id}/workshop`} aria-label={`Workshop: ${c.title}`}>
                    Workshop
                  </Link>{' '}
                  ·{' '}
                  <Link to={`/circuits/${c.id}/lessons`} aria-label={`Make lessons: ${c.title}`}>
                    Make lessons
                  </Link>{' '}
                  ·{' '}
                  <Button
                    type="link"
                    size="small"
                    className="bare-link"
                    onClick={() => void make({ copy_of: c.id, title: `${c.title}, copy` })}
                  >
                    Copy
                  </Button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
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
