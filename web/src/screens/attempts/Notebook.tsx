// One's own notebook: what was written down at the benches, machine by machine.
import { useQuery } from '@tanstack/react-query';
import { Button, Input } from 'antd';
import { useState } from 'react';
import { Link } from 'react-router';

import { api, ask, type Schemas } from '../../api/client';
import { Shell } from '../../app/Shell';
import './Notebook.css';

type Machine = Schemas['NotesOfMachine'];

/** What of the notebook holds all the words that one looks for. */
export function holding(machines: Machine[], words: string): Machine[] {
  const wanted = words.toLowerCase().split(/\s+/).filter(Boolean);
  const holds = (text: string) => wanted.every((w) => text.toLowerCase().includes(w));
  return machines.flatMap((m) => {
    const benches = m.benches.flatMap((b) => {
      const notes = b.notes.filter((n) => holds(`${m.machine} ${b.title} ${n.about} ${n.text}`));
      return notes.length > 0 ? [{ ...b, notes }] : [];
    });
    const sketch = m.sketch.filter((s) => holds(`${m.machine} ${s.at} ${s.to ?? ''} ${s.text}`));
    return benches.length + sketch.length > 0 ? [{ ...m, sketch, benches }] : [];
  });
}

export default function Notebook() {
  const [words, setWords] = useState('');
  const found = useQuery({ queryKey: ['notebook'], queryFn: () => ask(api.GET('/api/notebook')), staleTime: 0 });
  const shown = holding(found.data ?? [], words);
  return (
    <Shell crumbs={[{ text: 'Bench', to: '/attempts' }, { text: 'Notebook' }]}>
      <main className="page" tabIndex={0}>
        <div className="row notebook-head">
          <h1 className="grow">Your notebook</h1>
          <span className="row no-print">
            <Input
              id="find-note"
              aria-label="Find in the notebook"
              placeholder="find: relay, G1, cranking …"
              value={words}
              onChange={(e) => setWords(e.target.value)}
              allowClear
            />
            <Button onClick={() => window.print()}>Print</Button>
          </span>
        </div>
        {found.error && <p className="error-line">{found.error.message}</p>}
        {found.data?.length === 0 && (
          <p>
            Nothing is written down yet. At a bench, <kbd>O</kbd> puts a note on the chosen reading; it stays with you
            from lesson to lesson.
          </p>
        )}
        {(found.data?.length ?? 0) > 0 && shown.length === 0 && <p>No note holds these words.</p>}
        {shown.map((m) => (
          <section key={m.machine} aria-label={m.machine} className="apart">
            <h2>{m.machine}</h2>
            {m.sketch.length > 0 && (
              <p data-sketches={m.machine}>
                On its diagram:{' '}
                {m.sketch
                  .map(({ at, to, text }) => [to ? `${at} → ${to}` : at, text].filter(Boolean).join(': '))
                  .join('; ')}
              </p>
            )}
            {m.benches.map((b) => (
              <div key={b.attempt}>
                <p className="close">
                  <Link to={`/attempts/${b.attempt}`}>{b.title}</Link>{' '}
                  <span className="quiet">{new Date(b.given_at * 1000).toLocaleDateString()}</span>
                </p>
                <table className="sheet-table">
                  <thead>
                    <tr>
                      <th className="step-column">Step</th>
                      <th>Reading</th>
                      <th>Note</th>
                    </tr>
                  </thead>
                  <tbody>
                    {b.notes.map((n) => (
                      <tr key={`${n.step} ${n.text}`}>
                        <td className="mono quiet">{n.step}</td>
                        <td>{n.about || '–'}</td>
                        <td>{n.text}</td>
                      </tr>
                    ))}
                  </tbody>
                </table>
              </div>
            ))}
          </section>
        ))}
      </main>
    </Shell>
  );
}
