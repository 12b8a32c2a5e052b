// The first minute at a bench: on a machine with nothing wrong, what to do next stands above it until a reading is taken
// and judged.
import { Button } from 'antd';
import { useState } from 'react';
import { Link } from 'react-router';

import type { AttemptView } from '../../api/client';
import type { MeterState } from './meter/state';
import './Strip.css';
import { useFirstMinute } from './useFirstMinute';

/** Of the lamp circuit that it is shown on: what is switched, and where one measures. */
const CONTROL = 'work lamp';
const POINT = 'H1.1';

type Step = {
  text: string;
  done: boolean;
  /** It is done at the meter, which a narrow screen shows by itself. */ atMeter?: boolean;
};

export function firstMinute(attempt: AttemptView, meter: MeterState): Step[] {
  const { controls, ledger } = attempt.bench;
  const lamp = controls.find((c) => c.name === CONTROL);
  const line = ledger.find((l) => l.red === POINT);
  return [
    {
      text: 'Nothing is wrong with this machine. Switch its work lamp on: choose “on” above the diagram, or press L.',
      done: lamp !== undefined && lamp.position !== lamp.positions[0],
    },
    {
      text: `It shines. How many volts reach it? Put the red lead on ${POINT}, the round point above the lamp H1: choose it on the diagram, or press R and type ${POINT}.`,
      done: meter.leads.red === POINT,
    },
    {
      text: 'The black lead lies on battery negative. Before you look: what should a good circuit read here? Write it, such as 12.',
      done: meter.expected.trim() !== '' || line !== undefined,
      atMeter: true,
    },
    { text: 'Now look: press Enter, or Take reading.', done: line !== undefined, atMeter: true },
    {
      text: 'Judge it: is that normal, too low, too high? Choose it below the meter, or press 1 to 5.',
      done: typeof line?.verdict === 'string',
      atMeter: true,
    },
  ];
}

export function FirstMinute({ attempt, meter }: { attempt: AttemptView; meter: MeterState }) {
  const [left, setLeft] = useState(false);
  const again = useFirstMinute();
  if (left) return null;
  const steps = firstMinute(attempt, meter);
  // Whoever is quicker than it is not asked for what is behind them.
  const at = 1 + steps.map((s) => s.done).lastIndexOf(true);
  const step = steps[at];
  return (
    <section className="strip" aria-label="The first minute" id="first-minute">
      <p className="tight" role="status">
        {step ? (
          <>
            <b>
              {at + 1} of {steps.length}.
            </b>{' '}
            {step.text}
            {step.atMeter && <span className="on-narrow"> That is under Meter, below.</span>}
          </>
        ) : (
          <>
            <b>That is all of it:</b> expect, measure, judge, again and again. On a work order you also rule out what
            cannot be, name the fault, mend it and try it again. ? shows every key.
          </>
        )}
      </p>
      {step ? (
        <Button onClick={() => setLeft(true)}>Leave it</Button>
      ) : (
        <>
          <Link to="/attempts">To the work orders</Link>
          <Button onClick={again.begin}>Once more</Button>
        </>
      )}
      {again.error && (
        <p className="error-line" role="alert">
          {again.error}
        </p>
      )}
    </section>
  );
}
