// The debrief: the attempt step by step, with what was still possible on the diagram, what each step
// ruled out, and what would have told most.
import { useQuery } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { Link } from 'react-router';

import { api, ask, type AttemptView, type Debrief, type DebriefStep } from '../../api/client';
import { ChosenPlace, Named } from '../../diagram/chosen';
import { Diagram } from '../../diagram/Diagram';
import { GoingThrough, useDebrief } from './useDebrief';
import './Replay.css';

export function Replay({ id, attempt }: { id: number; attempt: AttemptView }) {
  const { asked, told } = useDebrief(id);
  if (asked.isPending) return <p className="quiet">Replaying …</p>;
  if (!told) return <GoingThrough id={id} asked={asked} />;
  return (
    <ChosenPlace drawing={attempt.drawing}>
      <Steps told={told} attempt={attempt} />
    </ChosenPlace>
  );
}

function Steps({ told, attempt }: { told: Debrief; attempt: AttemptView }) {
  const [at, setAt] = useState(0);
  const step = told.steps[at];
  const left = useMemo(() => leftAt(told, at), [told, at]);
  const began = told.begin.map((s) => s.place);
  const gone = began.filter((p) => !left.some((s) => s.place === p));
  return (
    <>
      <p>
        After the complaint {told.begin.length} places were possible. Next, practise:{' '}
        <b id="practise">{told.practise}</b> {attempt.own && attempt.in_class && <OnWhat />}
      </p>
      {(told.misleading?.length ?? 0) > 0 && (
        <ul id="misleading" aria-label="What led astray">
          {told.misleading?.map((said) => (
            <li key={said}>{said} It led astray.</li>
          ))}
        </ul>
      )}
      <div className="debrief">
        {/* The arrow keys go from one step's button to the next. */}
        {/* eslint-disable-next-line jsx-a11y/no-noninteractive-element-interactions */}
        <ol
          aria-label="Steps"
          onKeyDown={(e) => {
            const by = e.key === 'ArrowDown' ? 1 : e.key === 'ArrowUp' ? -1 : 0;
            if (by === 0) return;
            e.preventDefault();
            setAt(Math.min(Math.max(at + by, 0), told.steps.length - 1));
          }}
        >
          {told.steps.map((s, n) => (
            <li key={s.step}>
              <button type="button" aria-current={n === at ? 'step' : undefined} onClick={() => setAt(n)}>
                <span className="mono quiet">{s.step}</span>
                <span className={s.overlooked.length > 0 ? 'bad' : undefined}>{s.did}</span>
                <span className="mono quiet">{s.left ? s.left.length : ''}</span>
              </button>
            </li>
          ))}
        </ol>
        <div>
          {step && <Told step={step} before={leftAt(told, at - 1).length} after={left.length} />}
          <p className="close">
            Still possible:{' '}
            {left.slice(0, 12).map((s) => (
              <span key={s.place} className="mono spaced">
                <Named id={s.place} /> {(100 * s.share).toFixed(0)} %
              </span>
            ))}
            {left.length > 12 && <span className="quiet">and {left.length - 12} more</span>}
          </p>
          <div className="diagram no-print">
            <Diagram
              drawing={attempt.drawing}
              marks={{}}
              cleared={gone}
              suspected={left.map((s) => s.place)}
              onPoint={() => undefined}
            />
          </div>
        </div>
      </div>
      <h2 className="apart">How it could have gone</h2>
      <table className="sheet-table" aria-label="Reference plan">
        <thead>
          <tr>
            <th>Measure</th>
            <th>State</th>
            <th className="number">Reads</th>
            <th className="number">Suspects</th>
            <th className="number">Minutes</th>
            <th>Leaves</th>
          </tr>
        </thead>
        <tbody>
          {told.plan.steps.map((s, n) => (
            <tr key={n}>
              <td>{s.text}</td>
              <td>{s.state}</td>
              <td className="number">
                {s.shown.text} {s.shown.unit}
              </td>
              <td className="number">
                {(told.plan.steps[n - 1] ?? { left: told.plan.begin }).left.length} → {s.left.length}
              </td>
              <td className="number">{s.minutes.toFixed(1)}</td>
              <td className="mono">{s.left.length > 8 ? `${s.left.length} places` : s.left.join(', ')}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}

/** A lesson of one's own on which that can be practised. */
function OnWhat() {
  const came = useQuery({
    queryKey: ['start', 'marked'],
    queryFn: () => ask(api.GET('/api/start/marked')),
    staleTime: 0,
  });
  const lesson = came.data?.lesson;
  return lesson ? <Link to={`/attempts/${lesson.attempt}`}>Practise on “{lesson.title}”</Link> : null;
}

/** What a step told. */
export function Told({ step, before, after }: { step: DebriefStep; before: number; after: number }) {
  const best = step.best;
  return (
    <div>
      <h3>
        Step {step.step}: {step.did}
      </h3>
      {step.ruled_out.map((text) => (
        <p key={text} className="close">
          {text}
        </p>
      ))}
      {step.overlooked.map((text) => (
        <p key={text} className="bad close">
          {text}
        </p>
      ))}
      {typeof step.bits === 'number' && (
        <p className="quiet close">
          {after < before ? `${before} suspects became ${after}` : 'It ruled nothing out'}
          {best && `; best then: ${best.text} in ${best.state}, ${best.minutes.toFixed(1)} min`}.
        </p>
      )}
    </div>
  );
}

/** What was possible once a step was done. */
export function leftAt(told: Debrief, at: number): Debrief['begin'] {
  for (let n = at; n >= 0; n--) {
    const left = told.steps[n]?.left;
    if (left) return left;
  }
  return told.begin;
}
