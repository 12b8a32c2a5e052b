// What a student has to do.
import { useQuery } from '@tanstack/react-query';
import { Button } from 'antd';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';

import { api, ask, type Schemas } from '../../api/client';
import { Shell } from '../../app/Shell';
import { useFirstMinute, useOffered } from '../bench/useFirstMinute';
import { Came, useCame } from './Came';

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

type Group = 'begun' | 'due' | 'later' | 'done';

/** What there is to do comes first. */
const GROUPS: { holds: Group; title: string }[] = [
  { holds: 'begun', title: 'To go on with' },
  { holds: 'due', title: 'To do' },
  { holds: 'later', title: 'Opens later' },
  { holds: 'done', title: 'Done' },
];

function groupOf(a: Own, now: number): Group {
  if (a.handed_in || a.excused || (a.closes_at && a.closes_at <= now)) return 'done';
  if (a.opens_at && a.opens_at > now) return 'later';
  return a.steps > 0 ? 'begun' : 'due';
}

/** What is due soonest first; what is never due after it, the latest given first. */
const soonest = (a: Own, b: Own) => (a.due_at ?? Infinity) - (b.due_at ?? Infinity) || b.given_at - a.given_at;

export default function Attempts() {
  const attempts = useQuery({ queryKey: ['attempts'], queryFn: () => ask(api.GET('/api/attempts')) });
  // It stands above them: nothing moves by what comes later.
  const above = useCame().isPending;
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
        <p className="close">
          What you wrote down is in your <Link to="/notebook">notebook</Link>.
        </p>
        {attempts.error && <p className="error-line">{attempts.error.message}</p>}
        {error && (
          <p className="error-line" role="alert">
            {error}
          </p>
        )}
        {attempts.data?.length === 0 && (
          <p>Nothing has been given to you yet. Your instructor gives out work orders.</p>
        )}
        {attempts.data?.every((a) => a.steps === 0) && <Offer />}
        {attempts.data && <Came />}
        {GROUPS.map(({ title, holds }) => {
          const those = attempts.data?.filter((a) => groupOf(a, now) === holds).sort(soonest) ?? [];
          if (above || those.length === 0) return null;
          return (
            <section key={holds} aria-label={title} className="apart">
              <h2>{title}</h2>
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
                  {those.map((a) => (
                    <Order key={a.id} of={a} now={now} onAgain={() => void again(a.id)} />
                  ))}
                </tbody>
              </table>
            </section>
          );
        })}
      </main>
    </Shell>
  );
}

function Order({ of: a, now, onAgain }: { of: Own; now: number; onAgain: () => void }) {
  const { text, late } = stands(a, now);
  const open = !a.opens_at || a.opens_at <= now;
  return (
    <tr>
      <td>
        {open ? <Link to={`/attempts/${a.id}`}>{a.title}</Link> : a.title}
        {a.no > 1 && <span className="quiet"> attempt {a.no}</span>}
      </td>
      <td className="quiet">
        {PURPOSES[a.purpose]} · {a.class}
        {a.partner && ` · with ${a.partner}`}
      </td>
      <td className={late ? 'bad' : undefined}>{text}</td>
      <td>{open && <Link to={`/attempts/${a.id}/paper`}>On paper</Link>}</td>
      <td>
        {a.sheet && <Link to={`/attempts/${a.id}/sheet`}>{a.purpose === 'marks' ? 'Mark sheet' : 'Step by step'}</Link>}
        {a.handed_in && !a.sheet && <span className="quiet">its marks show later</span>}{' '}
        {a.again && (
          <Button size="small" onClick={onAgain} aria-label={`Begin again: ${a.title}`}>
            Begin again
          </Button>
        )}
      </td>
    </tr>
  );
}

/** To whoever has not begun anything. */
function Offer() {
  const [offered, decline] = useOffered();
  const first = useFirstMinute();
  if (!offered) return null;
  return (
    <section aria-label="First time here?" className="row" id="offer-first-minute">
      <span>First time at a bench? A minute at a machine that is all right shows how a reading is taken.</span>
      <Button
        type="primary"
        onClick={() => {
          decline();
          first.begin();
        }}
      >
        Show me
      </Button>
      <Button onClick={decline}>Not now</Button>
      {first.error && <p className="error-line">{first.error}</p>}
    </section>
  );
}
