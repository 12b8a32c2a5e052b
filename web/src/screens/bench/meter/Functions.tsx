// What the dial is set to, and how an instrument is set that has to be told something.
import { Button } from 'antd';

import type { AttemptView, Instrument, MeterFunction, Touch } from '../../../api/client';
import type { Leads } from './state';
import './Functions.css';

/** Functions with a button of their own; the others are in a list. */
const FRONT: MeterFunction[] = ['dc_volts', 'ohms', 'continuity', 'test_lamp', 'clamp_amps'];

/** How a lead gets at the contact inside a connector. */
const TOUCHES: [Touch, string][] = [
  ['pin', 'backprobe'],
  ['thick', "the meter's own probe, from the front"],
  ['pierce', 'pierce insulation'],
];

/** Whether a lead goes to a point inside a connector, so that it matters how. */
export function goesInside(attempt: AttemptView, leads: Leads): boolean {
  const inside = (point: string) => attempt.drawing.connectors.some((c) => point.startsWith(`${c.id}.`));
  return inside(leads.red) || inside(leads.black);
}

type Props = {
  attempt: AttemptView;
  /** The instruments of this lesson. */
  instruments: Instrument[];
  chosen: Instrument;
  onChoose: (fn: MeterFunction) => void;
  setting?: number;
  onSetting: (setting: number) => void;
  leads: Leads;
  touch: Touch;
  onTouch: (touch: Touch) => void;
};

export function Functions({
  attempt,
  instruments,
  chosen,
  onChoose,
  setting,
  onSetting,
  leads,
  touch,
  onTouch,
}: Props) {
  const closed = attempt.bench.handed_in;
  const front = instruments.filter((i) => FRONT.includes(i.function));
  const more = instruments.filter((i) => !FRONT.includes(i.function));
  const isFront = front.includes(chosen);
  const touches = TOUCHES.filter(([t]) => t !== 'pierce' || !attempt.forbidden.includes('piercing'));
  return (
    <div className="row functions" role="group" aria-label="Function">
      {front.map((i) => (
        <Button
          key={i.function}
          size="small"
          type={i === chosen ? 'primary' : 'default'}
          aria-pressed={i === chosen}
          onClick={() => onChoose(i.function)}
        >
          {i.label}
        </Button>
      ))}
      <kbd>M</kbd>
      {more.length > 0 && (
        <select
          aria-label="More instruments"
          className={isFront ? 'more' : 'more chosen'}
          value={isFront ? '' : chosen.function}
          onChange={(e) => e.target.value && onChoose(e.target.value as MeterFunction)}
        >
          <option value="">more instruments …</option>
          {more.map((i) => (
            <option key={i.function} value={i.function}>
              {i.label}
            </option>
          ))}
        </select>
      )}
      {chosen.settings.length > 0 && (
        <select
          className="more"
          id="setting"
          aria-label="Set to"
          value={setting ?? chosen.usual_setting ?? undefined}
          disabled={closed}
          onChange={(e) => onSetting(Number(e.target.value))}
        >
          {chosen.settings.map(({ value, label }) => (
            <option key={value} value={value}>
              {label}
            </option>
          ))}
        </select>
      )}
      {goesInside(attempt, leads) && (
        <select
          className="more"
          id="touch"
          aria-label="Into the connector by"
          value={touch}
          disabled={closed}
          onChange={(e) => onTouch(e.target.value as Touch)}
        >
          {touches.map(([t, text]) => (
            <option key={t} value={t}>
              {text}
            </option>
          ))}
        </select>
      )}
    </div>
  );
}
