// Where who teaches begins: who needs help now, what is due, what waits to be looked at or released.
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';

import { api, ask } from '../../api/client';
import { is, useMe } from '../../app/me';
import { Private } from '../../app/projector';
import { Shell } from '../../app/Shell';
import { useAssignments, useClasses, type Assignment } from '../classes/useClasses';
import { OpenLooks } from '../classes/OpenLooks';
import './Start.css';

/** How often one looks who needs help. */
const LOOK_MS = 15_000;
/** More than these are found under Classes. */
const MOST = 12;

const moment = (at: number) =>
  new Date(at * 1000).toLocaleString(undefined, {
    weekday: 'short',
    day: 'numeric',
    month: 'short',
    hour: '2-digit',
    minute: '2-digit',
  });

/** What is due next comes first, then what is never due; what was due long ago comes last. */
function order(a: Assignment, now: number): number {
  const due = a.terms.due_at;
  if (!due) return 1e12;
  return due >= now ? due - now : 2e12 + (now - due);
}

export default function Start() {
  const me = useMe().data;
  const given = useAssignments();
  const classes = useClasses();
  const help = useHelp();
  const [now] = useState(() => Date.now() / 1000);
  // One below the other: nothing moves by what comes later.
  if (given.isPending || help.isPending || classes.isPending) {
    return (
      <Shell crumbs={[{ text: 'Start' }]}>
        <main className="page start" tabIndex={0}>
          <h1>Today</h1>
        </main>
      </Shell>
    );
  }
  const all = given.data ?? [];
  const open = all
    .filter((a) => a.handed_in < a.given && !(a.terms.closes_at && a.terms.closes_at <= now))
    .sort((a, b) => order(a, now) - order(b, now) || b.id - a.id);
  const hidden = all.filter(
    (a) => a.given > 0 && a.handed_in === a.given && a.terms.sheets === 'released' && !a.released,
  );
  return (
    <Shell crumbs={[{ text: 'Start' }]}>
      <main className="page start" tabIndex={0}>
        <h1>Today</h1>
        {given.error && <p className="error-line">{given.error.message}</p>}
        <Help help={help} />
        <section aria-label="Given out">
          <h2>Given out and not handed in by all</h2>
          {given.data && open.length === 0 && <p className="quiet close">Nothing is open.</p>}
          <ul>
            {open.slice(0, MOST).map((a) => (
              <Open key={a.id} of={a} late={(a.terms.due_at ?? Infinity) < now} />
            ))}
          </ul>
          {open.length > MOST && (
            <p className="close">
              <Link to="/classes">{open.length - MOST} more under Classes</Link>
            </p>
          )}
        </section>
        {is(me, 'instructor') && <OpenLooks />}
        {hidden.length > 0 && (
          <section aria-label="To release">
            <h2>Marks that nobody sees yet</h2>
            <ul>
              {hidden.map((a) => (
                <li key={a.id}>
                  <Link to="/classes">{a.title}</Link>
                  <span className="quiet">
                    {' '}
                    · {a.class_name} · all {a.given} have handed in
                  </span>
                </li>
              ))}
            </ul>
          </section>
        )}
        {classes.data?.length === 0 && (
          <p>
            You have no class yet. <Link to="/classes">Make one</Link>, or have an administrator take you into one.
          </p>
        )}
      </main>
    </Shell>
  );
}

function Open({ of: a, late }: { of: Assignment; late: boolean }) {
  return (
    <li>
      <Link to={`/assignments/${a.id}/live`}>{a.title}</Link>
      <span className="quiet">
        {' '}
        · {a.class_name} · {a.handed_in} of {a.given} handed in
      </span>
      {a.terms.due_at && (
        <span className={late ? 'bad' : undefined}>
          {late ? ' · was due ' : ' · due '}
          {moment(a.terms.due_at)}
        </span>
      )}
    </li>
  );
}

const useHelp = () =>
  useQuery({
    queryKey: ['start', 'help'],
    queryFn: () => ask(api.GET('/api/start/help')),
    staleTime: 0,
    refetchInterval: LOOK_MS,
  });

function Help({ help }: { help: ReturnType<typeof useHelp> }) {
  return (
    <section aria-label="Who needs help now" id="help-now">
      <h2>Who needs help now</h2>
      {help.error && <p className="error-line">{help.error.message}</p>}
      {help.data?.length === 0 && <p className="quiet close">Nobody at a bench is stuck.</p>}
      <ul>
        {help.data?.map((h) => (
          <li key={h.attempt}>
            <Link to={`/attempts/${h.attempt}`}>
              <Private>{h.student}</Private>
            </Link>
            {h.danger ? (
              <span className="bad"> {h.danger}</span>
            ) : (
              <span> has learnt nothing for {h.stuck_minutes} min</span>
            )}
            <span className="quiet">
              {' '}
              · <Link to={`/assignments/${h.assignment}/live`}>{h.title}</Link>, {h.class}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
