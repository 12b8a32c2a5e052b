// What a student has to do.
import { useQuery } from '@tanstack/react-query';
import { Button } from 'antd';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';

import { api, ask, type Schemas } from '../../api/client';
import { Shell } from '../../app/Shell';

const PURPOSES = { marks: 'marks', practice: 'practice, with hints', tools: 'learning the tools' };

type Own = Schemas['OwnAttempt'];

const moment = (at: number) =>
  new Date(at * 1000).toLocaleString(undefined, { dateStyle: 'medium', timeStyle: 'short' });

/** How one stands, and until when. */
function stands(a: Own, now: number): { text: string; late: boolean } {
  if (a.excused) return { text: 'excused', late: false };
  if (a.handed_in) return { text: 'handed in', late: false };
  const begun = a.steps > 0 ? `step ${a.steps}` : 'not begun';
  if (a.opens_at && a.opens_at > now) return { text: `opens ${moment(a.opens_at)}`, late: false };
  if (a.closes_at && a.closes_at <= now) return { text: `${begun}, closed ${moment(a.closes_at)}`, late: true };
  if (a.due_at) return { text: `${begun}, due ${moment(a.due_at)}`, late: a.due_at < now };
  return { text: begun, late: false };
}

export default function Attempts() {
  const attempts = useQuery({ queryKey: ['attempts'], queryFn: () => ask(api.GET('/api/attempts')) });
  const navigate = useNavigate();
  const [error, setError] = useState('');
  const [now] = useState(() => Date.now() / 1000);
  const again = async (id: number) => {
    try {
      const begun = await ask(api.POST('/api/attempts/{id}/again', { params: { path: { id } } }));
      void navigate(`/attempts/${begun.id}`);
    } catch (e) {
      setError((e as Error).message);
    }
  };
  return (
    <Shell crumbs={[{ text: 'Bench' }]}>
      <main className="page" tabIndex={0}>
        <h1>Your work orders</h1>
        {attempts.error && <p className="error-line">{attempts.error.message}</p>}
        {error && (
          <p className="error-line" role="alert">
            {error}
          </p>
        )}
        {attempts.data?.length === 0 && (
          <p>Nothing has been given to you yet. Your instructor gives out work orders.</p>
        )}
        <table className="sheet-table">
          <thead>
            <tr>
              <th>Work order</th>
              <th>For</th>
              <th>Status</th>
              <th />
              <th />
            </tr>
          </thead>
          <tbody>
            {attempts.data?.map((a) => {
              const { text, late } = stands(a, now);
              const open = !a.opens_at || a.opens_at <= now;
              return (
                <tr key={a.id}>
                  <td>
                    {open ? <Link to={`/attempts/${a.id}`}>{a.title}</Link> : a.title}
                    {a.no > 1 && <span className="quiet"> attempt {a.no}</span>}
                  </td>
                  <td className="quiet">
                    {PURPOSES[a.purpose]} · {a.class}
                  </td>
                  <td className={late ? 'bad' : undefined}>{text}</td>
                  <td>{open && <Link to={`/attempts/${a.id}/paper`}>On paper</Link>}</td>
                  <td>
                    {a.sheet && (
                      <Link to={`/attempts/${a.id}/sheet`}>
                        {a.purpose === 'marks' ? 'Mark sheet' : 'Step by step'}
                      </Link>
                    )}
                    {a.handed_in && !a.sheet && <span className="quiet">its marks show later</span>}{' '}
                    {a.again && (
                      <Button size="small" onClick={() => void again(a.id)} aria-label={`Begin again: ${a.title}`}>
                        Begin again
                      </Button>
                    )}
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </main>
    </Shell>
  );
}
