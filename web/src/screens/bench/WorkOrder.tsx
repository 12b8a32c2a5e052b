// The work order: the customer's words, what was tried, what is noticed now, and the controls at hand.
import { Button, Modal, Segmented } from 'antd';
import { useState, type Ref } from 'react';

import type { Action, AttemptView } from '../../api/client';
import { Intro } from './Before';
import { Binder } from './Binder';
import { Customer } from './Customer';
import { isAtHand, levers } from './Machine';
import { TimeLeft } from './TimeLeft';
import './WorkOrder.css';

type Props = {
  attempt: AttemptView;
  onMove: (control: string, position: string) => void;
  onTry: () => void;
  act: (action: Action) => Promise<unknown>;
  /** Opens what the customer may be asked. */
  askButton?: Ref<HTMLButtonElement>;
  /** Opens the binder. */
  binderButton?: Ref<HTMLButtonElement>;
};

const TO_WIRE =
  'Wire it, then try every lever and measure: it is to do what is asked, through its fuses, and lose little.';

const JOBS = {
  check_up: 'For a check: something is out of order',
  check_up_or_sound: 'For a check: it may be sound',
};

export function WorkOrder({ attempt, onMove, onTry, act, askButton, binderButton }: Props) {
  const view = attempt.bench;
  const [cautions, setCautions] = useState(false);
  const [goal, setGoal] = useState(false);
  // What lies off the machine does nothing, and has nothing to turn.
  const off = !!attempt.sheet && !attempt.sheet.state && attempt.sheet.leads.length === 0;
  const often = off ? [] : view.controls.filter((c) => isAtHand(view, c.name));
  const keyOf = (name: string) => (name === 'key' ? 'K' : ['L', '⇧L'][levers(view).indexOf(name)]);
  return (
    <div className="order">
      <div className="words">
        <h1>{attempt.words ? `“${attempt.words}”` : attempt.title}</h1>
        <p>
          {attempt.sheet || attempt.build ? (
            (attempt.sheet?.about ?? TO_WIRE)
          ) : (
            <>
              Tried: <span id="complaint">{attempt.complaint}</span>
            </>
          )}{' '}
          <Button className="inline-link" size="small" type="link" onClick={() => setCautions(true)}>
            Cautions
          </Button>{' '}
          {attempt.intro && (
            <Button className="inline-link" size="small" type="link" onClick={() => setGoal(true)}>
              Goal
            </Button>
          )}
          {attempt.intro && ' '}
          <Customer attempt={attempt} act={act} button={askButton} />{' '}
          <Binder attempt={attempt} act={act} button={binderButton} />
          {attempt.partner && <span> · with {attempt.partner}</span>}
          {attempt.job !== 'complaint' && <span> · {JOBS[attempt.job]}</span>}
          {attempt.method && <span> · Asked for: {attempt.method}</span>}
          {typeof attempt.left_s === 'number' && (
            <>
              {' '}
              · <TimeLeft leftS={attempt.left_s} began={view.steps > 0} />
            </>
          )}
        </p>
        <p className="notices" role="status" id="notices">
          {view.tried && view.notices.length === 0 && 'Nothing happens.'}
          {!off && view.notices.length > 0 && `Now: ${view.notices.map((n) => n.text).join(', ')}`}
        </p>
      </div>
      {!attempt.sheet && !attempt.build && (
        <Button id="try-complaint" className="beside-controls" onClick={onTry} disabled={view.handed_in}>
          Try it <kbd>T</kbd>
        </Button>
      )}
      {often.map((c) => (
        <div className="control" key={c.name} data-control={c.name}>
          <span className="name">
            {c.name[0]?.toUpperCase()}
            {c.name.slice(1)} {keyOf(c.name) && <kbd>{keyOf(c.name)}</kbd>}
          </span>
          <Segmented
            aria-label={c.name}
            value={c.position}
            options={c.positions}
            disabled={view.handed_in}
            onChange={(v) => onMove(c.name, String(v))}
          />
        </div>
      ))}
      <Modal title="What to know" open={goal} onCancel={() => setGoal(false)} footer={null} width={760}>
        {attempt.intro && <Intro intro={attempt.intro} />}
      </Modal>
      <Modal title="Cautions" open={cautions} onCancel={() => setCautions(false)} footer={null}>
        <ul className="spaced-list">
          {attempt.cautions.map((c) => (
            <li key={c}>{c}</li>
          ))}
        </ul>
      </Modal>
    </div>
  );
}
