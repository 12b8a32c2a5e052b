// One lead: where it is, typed or stepped along the path.
import { forwardRef, useId, useState } from 'react';
import { flushSync } from 'react-dom';

import type { AttemptView, Instrument, PutOn } from '../../../api/client';
import type { Which } from './state';
import './Lead.css';

type Target = { id: string; about: string };

/** What stands in the field's label for what has one lead. */
const LABELS: Record<Exclude<PutOn, 'points'>, string> = {
  wire: 'around wire',
  module: 'at module',
  pin: 'at pin',
  ignition_lead: 'on lead',
};
const NOUNS: Record<PutOn, string> = {
  points: 'test point',
  wire: 'wire',
  module: 'module',
  pin: 'pin',
  ignition_lead: 'lead',
};

/** What the red lead of an instrument can go to. */
function targets(attempt: AttemptView, on: PutOn): Target[] {
  const { wires, leads, points } = attempt.drawing;
  switch (on) {
    case 'wire':
      return wires.map((w) => ({ id: w.id, about: `${w.label}, ${w.from} to ${w.to}` }));
    case 'ignition_lead':
      return wires.filter((w) => leads.includes(w.id)).map((w) => ({ id: w.id, about: `${w.from} to ${w.to}` }));
    case 'module':
      return attempt.modules.map((id) => ({ id, about: 'codes' }));
    case 'pin':
      return points.filter((p) => attempt.modules.some((m) => p.id.startsWith(`${m}.`)));
    case 'points':
      return points;
  }
}

type Props = {
  attempt: AttemptView;
  which: Which;
  instrument: Instrument;
  point: string;
  /** The next point that is clicked goes to it. */
  active: boolean;
  onPut: (point: string) => void;
  onActive: () => void;
  /** Test points of the path in view, for the arrow keys. */
  path: string[];
  /** Where the cursor goes once it is on its point. */
  onDone: () => void;
};

export const Lead = forwardRef<HTMLInputElement, Props>(function Lead(props, ref) {
  const { attempt, which, instrument, point, path } = props;
  const list = useId();
  const [typed, setTyped] = useState<string | null>(null);
  const on = instrument.put_on;
  const idle = which === 'black' && on !== 'points';
  const points = targets(attempt, on);
  const find = (text: string) => points.find((p) => p.id.toLowerCase() === text.trim().toLowerCase());
  const put = (id: string) => {
    setTyped(null);
    props.onPut(id);
  };
  const step = (by: number) => {
    const at = path.indexOf(point);
    const next = path[at < 0 ? 0 : Math.min(Math.max(at + by, 0), path.length - 1)];
    if (next) put(next);
  };
  const keyDown = (e: React.KeyboardEvent<HTMLInputElement>) => {
    if (e.key === 'Enter') {
      e.preventDefault();
      const found = find(typed ?? point);
      if (found) {
        // What is next may be there only once the lead is.
        flushSync(() => put(found.id));
        props.onDone();
      }
    } else if (e.key === 'Escape') {
      setTyped(null);
      e.currentTarget.blur();
    } else if (typed === null && (e.key === 'ArrowRight' || e.key === 'ArrowLeft')) {
      e.preventDefault();
      step(e.key === 'ArrowRight' ? 1 : -1);
    }
  };
  const about =
    typed !== null && !find(typed) ? `no such ${NOUNS[on]}` : idle ? '' : points.find((p) => p.id === point)?.about;
  return (
    <div className={props.active ? 'lead active' : 'lead'}>
      <label htmlFor={`lead-${which}`}>
        <i className={`swatch ${which}`} aria-hidden />
        {which === 'red' && on !== 'points' ? LABELS[on] : which} <kbd>{which === 'red' ? 'R' : 'B'}</kbd>
      </label>
      <input
        id={`lead-${which}`}
        ref={ref}
        list={list}
        value={typed ?? (idle ? '' : point)}
        placeholder={idle ? 'not used' : on === 'points' ? 'not connected' : `no ${NOUNS[on]} yet`}
        autoComplete="off"
        disabled={attempt.bench.handed_in || idle}
        onFocus={props.onActive}
        onBlur={() => {
          if (typed === null) return;
          const found = find(typed);
          if (found) put(found.id);
          else setTyped(null);
        }}
        onChange={(e) => {
          setTyped(e.target.value);
          const exact = points.find((p) => p.id === e.target.value);
          if (exact) put(exact.id);
        }}
        onKeyDown={keyDown}
      />
      <datalist id={list}>
        {points.map((p) => (
          <option key={p.id} value={p.id}>
            {p.about}
          </option>
        ))}
      </datalist>
      <div className="about">{about}</div>
    </div>
  );
});
