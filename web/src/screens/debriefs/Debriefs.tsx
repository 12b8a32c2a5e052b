// A debrief in front of the class: up to three attempts at one assignment side by side, step by step with the arrow
// keys. Whose they are stands nowhere, so that the page may be shown on the wall.
import { useQuery } from '@tanstack/react-query';
import { Button, Checkbox } from 'antd';
import { useEffect, useMemo, useState } from 'react';
import { useParams } from 'react-router';

import { api, ask, type AttemptView, type Debrief } from '../../api/client';
import { Private } from '../../app/projector';
import { Shell } from '../../app/Shell';
import { ChosenPlace } from '../../diagram/chosen';
import { Diagram } from '../../diagram/Diagram';
import { leftAt, Told } from '../sheet/Replay';
import { GoingThrough, useDebrief } from '../sheet/useDebrief';
import './Debriefs.css';

const MOST = 3;
const LETTERS = ['A', 'B', 'C'];
const nothing = () => undefined;
const none = {};

export default function Debriefs() {
  const id = Number(useParams().id);
  const given = useQuery({
    queryKey: ['live', id],
    queryFn: () => ask(api.GET('/api/assignments/{id}/live', { params: { path: { id } } })),
    staleTime: 0,
  });
  const [chosen, setChosen] = useState<number[]>([]);
  const [at, setAt] = useState(0);
  const done = given.data?.benches.filter((b) => b.handed_in) ?? [];
  const longest = Math.max(1, ...done.filter((b) => chosen.includes(b.attempt)).map((b) => b.steps));
  useEffect(() => {
    const go = (e: KeyboardEvent) => {
      const by = e.key === 'ArrowRight' ? 1 : e.key === 'ArrowLeft' ? -1 : 0;
      if (by === 0 || (e.target as HTMLElement).matches('input:not([type="checkbox"]), select, textarea')) return;
      e.preventDefault();
      setAt((now) => Math.min(Math.max(now + by, 0), longest - 1));
    };
    window.addEventListener('keydown', go);
    return () => window.removeEventListener('keydown', go);
  }, [longest]);
  const choose = (attempt: number, on: boolean) => {
    setAt(0);
    setChosen(on ? [...chosen, attempt] : chosen.filter((a) => a !== attempt));
  };
  return (
    <Shell crumbs={[{ text: 'Classes', to: '/classes' }, { text: given.data?.class ?? '…' }, { text: 'Debrief' }]}>
      <main className="page debriefs" tabIndex={0}>
        <h1>{given.data?.title ?? '…'}</h1>
        {given.error && <p className="error-line">{given.error.message}</p>}
        {given.data && done.length === 0 && <p>Nobody has handed it in yet.</p>}
        {done.length > 0 && (
          <fieldset className="row no-print">
            <legend className="field-label">Up to three attempts, side by side</legend>
            {done.map((b, n) => (
              <Checkbox
                key={b.attempt}
                checked={chosen.includes(b.attempt)}
                disabled={chosen.length >= MOST && !chosen.includes(b.attempt)}
                onChange={(e) => choose(b.attempt, e.target.checked)}
              >
                <Private instead={`Attempt ${n + 1}`}>{b.display}</Private>{' '}
                <span className="quiet">{b.steps} steps</span>
              </Checkbox>
            ))}
          </fieldset>
        )}
        {chosen.length > 0 && (
          <div className="row">
            <Button size="small" disabled={at === 0} onClick={() => setAt(at - 1)} aria-label="The step before">
              <kbd>←</kbd>
            </Button>
            <span className="mono" role="status" id="debrief-at">
              step {at + 1} of {longest}
            </span>
            <Button size="small" disabled={at >= longest - 1} onClick={() => setAt(at + 1)} aria-label="The next step">
              <kbd>→</kbd>
            </Button>
          </div>
        )}
        <div className={`side-by-side of-${chosen.length}`}>
          {chosen.map((attempt, n) => (
            <One key={attempt} id={attempt} letter={LETTERS[n] ?? ''} at={at} />
          ))}
        </div>
      </main>
    </Shell>
  );
}

/** One of them; those that took fewer steps stand at their last. */
function One({ id, letter, at }: { id: number; letter: string; at: number }) {
  const path = { params: { path: { id } } };
  const attempt = useQuery({ queryKey: ['attempt', id], queryFn: () => ask(api.GET('/api/attempts/{id}', path)) });
  const { asked, told } = useDebrief(id);
  return (
    <section aria-label={`Attempt ${letter}`} data-attempt={id}>
      <h2>{letter}</h2>
      {attempt.error && <p className="error-line">{attempt.error.message}</p>}
      <GoingThrough id={id} asked={asked} />
      {told && attempt.data && <At told={told} attempt={attempt.data} at={Math.min(at, told.steps.length - 1)} />}
    </section>
  );
}

function At({ told, attempt, at }: { told: Debrief; attempt: AttemptView; at: number }) {
  const step = told.steps[at];
  const left = useMemo(() => leftAt(told, at), [told, at]);
  const gone = told.begin.map((s) => s.place).filter((p) => !left.some((s) => s.place === p));
  return (
    <ChosenPlace drawing={attempt.drawing}>
      <p className="suspects-left">
        {left.length} of {told.begin.length} suspects
      </p>
      {step && <Told step={step} before={leftAt(told, at - 1).length} after={left.length} />}
      <div className="diagram">
        <Diagram
          drawing={attempt.drawing}
          marks={none}
          cleared={gone}
          suspected={left.map((s) => s.place)}
          onPoint={nothing}
          still
        />
      </div>
    </ChosenPlace>
  );
}
