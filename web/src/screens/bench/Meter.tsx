// The meter: display, function, leads, prediction, verdict. It shows what the server says it shows.
import { Button } from 'antd';
import { forwardRef, useId, useImperativeHandle, useRef, useState } from 'react';

import type { AttemptView, LedgerLine, MeterFunction, Supposed, Touch, Verdict } from '../../api/client';

export const FUNCTIONS: Record<MeterFunction, string> = {
  dc_volts: 'DC volts',
  ohms: 'Ohms',
  continuity: 'Continuity',
  test_lamp: 'Lamp',
  clamp_amps: 'Clamp',
  ac_volts: 'AC volts',
  hertz: 'Hertz',
  duty: 'Duty',
  diode_test: 'Diode test',
  dc_amps: 'DC amps',
  min_max: 'Min / max',
  analog_volts: 'Needle',
  led_lamp: 'LED lamp',
  scan_codes: 'Codes',
  scan_volts: 'Module sees',
  spark_tester: 'Spark tester',
  peak_volts: 'Peak volts',
  tachometer: 'Tachometer',
  timing_lamp: 'Timing lamp',
  cylinder_drop: 'Cylinder drop',
  tapped_lamp: 'Tapped lamp',
};

/** What stands in the empty field of an expectation. */
const HINTS: Record<MeterFunction, string> = {
  dc_volts: 'V',
  ohms: 'Ω',
  continuity: 'Ω',
  test_lamp: 'off, dim, bright',
  clamp_amps: 'A',
  ac_volts: 'V',
  hertz: 'Hz',
  duty: '%',
  diode_test: 'V',
  dc_amps: 'A',
  min_max: 'V',
  analog_volts: 'V',
  led_lamp: 'off, dim, bright',
  scan_codes: 'none, or a code',
  scan_volts: 'V',
  spark_tester: 'spark, or no spark',
  peak_volts: 'V',
  tachometer: 'rpm',
  timing_lamp: '°, early is −',
  cylinder_drop: 'rpm',
  tapped_lamp: 'nothing, or how many click',
};

/** Functions with a button of their own; the others are in a list. */
const FRONT: MeterFunction[] = ['dc_volts', 'ohms', 'continuity', 'test_lamp', 'clamp_amps'];

/** Instruments that go round or to the end of a high-voltage lead. */
export const ON_LEADS: MeterFunction[] = ['spark_tester', 'tachometer', 'timing_lamp', 'cylinder_drop'];

/** Whether an instrument chooses its range by itself. */
const isRanged = (fn: MeterFunction) => ![...['test_lamp', 'led_lamp', 'tapped_lamp'], ...ON_LEADS].includes(fn);

/** What an instrument has to be told before it reads: the gap of a tester, how often a lead sparks. */
const SETTINGS: Partial<Record<MeterFunction, [number, string][]>> = {
  spark_tester: [
    [6, '6 mm gap'],
    [10, '10 mm gap'],
    [20, '20 mm gap'],
  ],
  tachometer: [
    [0.5, 'a spark in two turns'],
    [1, 'one spark a turn'],
    [2, 'two sparks a turn'],
  ],
};

/** How an instrument is set before anybody sets it. */
export const USUAL_SETTING: Partial<Record<MeterFunction, number>> = { spark_tester: 10, tachometer: 0.5 };

/** What a function with one lead goes to; the others take two test points. */
export const ONE_LEAD: Partial<Record<MeterFunction, 'wire' | 'module' | 'pin' | 'lead'>> = {
  clamp_amps: 'wire',
  scan_codes: 'module',
  scan_volts: 'pin',
  spark_tester: 'lead',
  tachometer: 'lead',
  timing_lamp: 'lead',
  cylinder_drop: 'lead',
};

export const VERDICTS: [Verdict, string][] = [
  ['normal', 'normal'],
  ['borderline', 'borderline'],
  ['too_low', 'too low'],
  ['too_high', 'too high'],
  ['tells_nothing', 'not telling'],
];

/** How a lead gets at the contact inside a connector. */
const TOUCHES: [Touch, string][] = [
  ['pin', 'by a thin pin from behind'],
  ['thick', "by the meter's own probe"],
  ['pierce', 'by a needle through the wire'],
];

export type Leads = { red: string; black: string };
/** Whether a lead goes to a point inside a connector, so that it matters how. */
export function goesInside(attempt: AttemptView, leads: Leads): boolean {
  const inside = (point: string) => attempt.drawing.connectors.some((c) => point.startsWith(`${c.id}.`));
  return inside(leads.red) || inside(leads.black);
}

export type MeterHandle = { focus: (what: 'red' | 'black' | 'expected') => void };

type Props = {
  attempt: AttemptView;
  fn: MeterFunction;
  onFunction: (f: MeterFunction) => void;
  leads: Leads;
  onLead: (which: keyof Leads, point: string) => void;
  active: keyof Leads | null;
  onActive: (which: keyof Leads | null) => void;
  /** Test points of the path in view, for the arrow keys. */
  path: string[];
  /** How the instrument is set, if it has to be. */
  setting?: number;
  onSetting: (setting: number) => void;
  touch: Touch;
  onTouch: (touch: Touch) => void;
  expected: string;
  onExpected: (text: string) => void;
  /** The fault with which that is expected; none of a healthy circuit. */
  supposing: Supposed | null;
  onSupposing: (fault: Supposed | null) => void;
  onRead: () => void;
  /** The reading in view, and whether it is the latest for these leads. */
  line?: LedgerLine;
  onJudge: (v: Verdict) => void;
  busy: boolean;
};

export const Meter = forwardRef<MeterHandle, Props>(function Meter(props, handle) {
  const red = useRef<HTMLInputElement>(null);
  const black = useRef<HTMLInputElement>(null);
  const expected = useRef<HTMLInputElement>(null);
  useImperativeHandle(handle, () => ({
    focus: (what) => {
      const field = { red, black, expected }[what].current;
      field?.focus();
      field?.select();
    },
  }));
  const { attempt, line, fn } = props;
  const closed = attempt.bench.handed_in;
  const clamp = ONE_LEAD[fn] !== undefined;
  const touches = TOUCHES.filter(([t]) => t !== 'pierce' || !attempt.forbidden.includes('piercing'));
  const ready = props.leads.red !== '' && (clamp || props.leads.black !== '') && (!attempt.predictions || props.expected.trim() !== '');
  return (
    <section aria-label="Meter">
      <div className="row" style={{ gap: 4, marginBottom: 7 }} role="group" aria-label="Function">
        {attempt.functions.filter((f) => FRONT.includes(f)).map((f) => (
          <Button key={f} size="small" style={{ paddingInline: 6 }} type={f === fn ? 'primary' : 'default'} aria-pressed={f === fn} onClick={() => props.onFunction(f)}>
            {FUNCTIONS[f]}
          </Button>
        ))}
        <kbd>M</kbd>
        {attempt.functions.some((f) => !FRONT.includes(f)) && (
          <select
            aria-label="More instruments"
            className={FRONT.includes(fn) ? 'more' : 'more chosen'}
            value={FRONT.includes(fn) ? '' : fn}
            onChange={(e) => e.target.value && props.onFunction(e.target.value as MeterFunction)}
          >
            <option value="">more instruments …</option>
            {attempt.functions
              .filter((f) => !FRONT.includes(f))
              .map((f) => (
                <option key={f} value={f}>
                  {FUNCTIONS[f]}
                </option>
              ))}
          </select>
        )}
        {SETTINGS[fn] && (
          <select className="more" id="setting" aria-label="Set to" value={props.setting ?? USUAL_SETTING[fn]} disabled={closed} onChange={(e) => props.onSetting(Number(e.target.value))}>
            {SETTINGS[fn].map(([value, text]) => (
              <option key={value} value={value}>
                {text}
              </option>
            ))}
          </select>
        )}
        {goesInside(attempt, props.leads) && (
          <select className="more" id="touch" aria-label="Into the connector by" value={props.touch} disabled={closed} onChange={(e) => props.onTouch(e.target.value as Touch)}>
            {touches.map(([t, text]) => (
              <option key={t} value={t}>
                {text}
              </option>
            ))}
          </select>
        )}
      </div>
      <div className="display" aria-live="polite" id="display">
        <div className="top-line">
          <span>{line ? FUNCTIONS[line.function] : FUNCTIONS[fn]}</span>
          <span>{line?.shown.range ? `${isRanged(line.function) ? 'auto ' : ''}${line.shown.range}` : ''}</span>
          <span>{line?.shown.beeps ? 'beeps' : (line?.function ?? fn) === 'dc_volts' ? '10 MΩ' : ''}</span>
        </div>
        <div className={`figures ${(line?.shown.text.length ?? 0) > 6 ? 'long' : ''}`}>
          {line ? (
            <>
              {line.shown.text} <span>{line.shown.unit}</span>
            </>
          ) : (
            <span className="visually-hidden">no reading yet</span>
          )}
        </div>
      </div>
      <div className="leads" style={{ marginTop: 8 }}>
        <Lead ref={red} which="red" next={() => (clamp ? expected.current?.focus() : black.current?.select())} {...props} />
        <Lead ref={black} which="black" idle={clamp} next={() => expected.current?.focus()} {...props} />
      </div>
      <form
        className="row"
        style={{ marginTop: 8, alignItems: 'flex-end' }}
        onSubmit={(e) => {
          e.preventDefault();
          if (ready && !props.busy && !closed) props.onRead();
        }}
      >
        {attempt.predictions && (
          <label>
            <span className="field-label">
              <Supposition {...props} /> <kbd>E</kbd>
            </span>
            <input
              ref={expected}
              id="expected"
              className="text-field"
              value={props.expected}
              placeholder={HINTS[fn]}
              autoComplete="off"
              disabled={closed}
              onChange={(e) => props.onExpected(e.target.value)}
              onKeyDown={(e) => e.key === 'Escape' && e.currentTarget.blur()}
            />
          </label>
        )}
        <Button id="take-reading" type="primary" htmlType="submit" disabled={!ready || closed} loading={props.busy}>
          Take reading ⏎
        </Button>
      </form>
      <div style={{ marginTop: 8 }}>
        <span className="field-label">{line ? `The reading of step ${line.step} is` : 'This reading is'}</span>
        <div className="verdicts" role="group" aria-label="Verdict">
          {VERDICTS.map(([v, text], n) => (
            <button key={v} type="button" aria-pressed={line?.verdict === v} disabled={!line || closed} onClick={() => props.onJudge(v)} title={`key ${n + 1}`}>
              {text}
            </button>
          ))}
        </div>
      </div>
    </section>
  );
});

/** What the expectation is of: a healthy circuit, or one with a fault at a place held suspect. */
function Supposition({ attempt, supposing, onSupposing }: Props) {
  const held = attempt.places.filter((p) => attempt.bench.suspected.includes(p.id));
  if (held.length === 0) return 'Healthy, it should read';
  const faults = held.flatMap((p) => p.modes.map((m) => ({ place: p.id, mode: m.mode })));
  const chosen = faults.findIndex((f) => f.place === supposing?.place && f.mode === supposing.mode);
  return (
    <select
      aria-label="What is expected is of"
      className={chosen < 0 ? 'more' : 'more chosen'}
      style={{ width: 168 }}
      value={chosen}
      onChange={(e) => onSupposing(faults[Number(e.target.value)] ?? null)}
    >
      <option value={-1}>Healthy, it should read</option>
      {faults.map((f, n) => (
        <option key={`${f.place} ${f.mode}`} value={n}>
          With {f.place} {f.mode.replaceAll('_', ' ')}
        </option>
      ))}
    </select>
  );
}

/** What the red lead of a function can go to. */
function targets(attempt: AttemptView, one?: 'wire' | 'module' | 'pin' | 'lead'): { id: string; about: string }[] {
  switch (one) {
    case 'wire':
      return attempt.drawing.wires.map((w) => ({ id: w.id, about: `${w.label}, ${w.from} to ${w.to}` }));
    case 'lead':
      return attempt.drawing.wires.filter((w) => attempt.drawing.leads.includes(w.id)).map((w) => ({ id: w.id, about: `${w.from} to ${w.to}` }));
    case 'module':
      return attempt.modules.map((id) => ({ id, about: 'codes' }));
    case 'pin':
      return attempt.drawing.points.filter((p) => attempt.modules.some((m) => p.id.startsWith(`${m}.`)));
    default:
      return attempt.drawing.points;
  }
}

type LeadProps = Props & { which: keyof Leads; next: () => void; idle?: boolean };

const Lead = forwardRef<HTMLInputElement, LeadProps>(function Lead(props, ref) {
  const { which, attempt } = props;
  const list = useId();
  const point = props.leads[which];
  const [typed, setTyped] = useState<string | null>(null);
  const one = ONE_LEAD[props.fn];
  const points = targets(attempt, one);
  const find = (text: string) => points.find((p) => p.id.toLowerCase() === text.trim().toLowerCase());
  const put = (id: string) => {
    setTyped(null);
    props.onLead(which, id);
  };
  const step = (by: number) => {
    const at = props.path.indexOf(point);
    const next = props.path[at < 0 ? 0 : Math.min(Math.max(at + by, 0), props.path.length - 1)];
    if (next) put(next);
  };
  return (
    <div className={`lead ${props.active === which ? 'active' : ''}`}>
      <label htmlFor={`lead-${which}`}>
        <i style={{ background: which === 'red' ? '#c0392b' : '#1f2a33' }} aria-hidden />
        {one && which === 'red' ? { wire: 'around wire', module: 'at module', pin: 'at pin', lead: props.fn === 'spark_tester' ? 'at the end of lead' : 'around lead' }[one] : which} <kbd>{which === 'red' ? 'R' : 'B'}</kbd>
      </label>
      <input
        id={`lead-${which}`}
        ref={ref}
        list={list}
        value={typed ?? (props.idle ? '' : point)}
        placeholder={props.idle ? 'not used' : one ? `no ${one} yet` : 'in the air'}
        autoComplete="off"
        disabled={attempt.bench.handed_in || props.idle}
        onFocus={() => props.onActive(which)}
        onBlur={() => {
          props.onActive(null);
          if (typed !== null) {
            const found = find(typed);
            if (found) put(found.id);
            else setTyped(null);
          }
        }}
        onChange={(e) => {
          setTyped(e.target.value);
          const exact = points.find((p) => p.id === e.target.value);
          if (exact) put(exact.id);
        }}
        onKeyDown={(e) => {
          if (e.key === 'Enter') {
            e.preventDefault();
            const found = typed === null ? find(point) : find(typed);
            if (found) {
              put(found.id);
              props.next();
            }
          } else if (e.key === 'Escape') {
            setTyped(null);
            e.currentTarget.blur();
          } else if (typed === null && e.key === 'ArrowRight') {
            e.preventDefault();
            step(1);
          } else if (typed === null && e.key === 'ArrowLeft') {
            e.preventDefault();
            step(-1);
          }
        }}
      />
      <datalist id={list}>
        {points.map((p) => (
          <option key={p.id} value={p.id}>
            {p.about}
          </option>
        ))}
      </datalist>
      <div className="about">
        {typed !== null && !find(typed) ? `no such ${one ?? 'test point'}` : props.idle ? '' : points.find((p) => p.id === point)?.about}
      </div>
    </div>
  );
});
