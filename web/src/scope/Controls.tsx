// How the oscilloscope is set: what its channels are put to, the sweep, the trigger.
import { Button, Select } from 'antd';
import { useEffect, useMemo, useRef, useState, type ComponentRef, type ReactNode } from 'react';

import type { Drawing, Looks, Scope, ScopeProbe } from '../api/client';
import { ChoosePattern } from './ChoosePattern';
import { SayLooks, whole, type Said } from './SayLooks';
import { time } from './Screen';
import { usePatterns } from './usePatterns';
import './Controls.css';

type Props = {
  drawing: Drawing;
  sweeps: number[];
  busy: boolean;
  /** Ask what each channel of a healthy machine shows before it is captured. */
  predictions?: boolean;
  /** The attempt whose machine it is, and how far it has gone: its screens are chosen among pictures. */
  attempt?: { id: number; steps: number };
  /** Opened by hand: its channels are what one types first. */
  focused?: boolean;
  /** What was said is kept until this answers with something. */
  onCapture: (scope: Scope, expected: Looks[]) => unknown;
};

const MOST = 4;
type Channel = { label?: ReactNode };

export function Controls({ drawing, sweeps, busy, predictions = false, attempt, focused = false, onCapture }: Props) {
  const first = useRef<ComponentRef<typeof Select>>(null);
  useEffect(() => {
    if (focused) first.current?.focus();
  }, [focused]);
  const [channels, setChannels] = useState<string[]>([]);
  const [sweep, setSweep] = useState(sweeps[5] ?? 0.02);
  const [level, setLevel] = useState('');
  const [falling, setFalling] = useState(false);
  const [attenuation, setAttenuation] = useState<NonNullable<Scope['attenuation']>>('×10');
  const [acquire, setAcquire] = useState<NonNullable<Scope['acquire']>>('peak');
  const [said, setSaid] = useState<Record<string, Said>>({});
  const [open, setOpen] = useState(true);
  const options = useMemo(
    () => [
      {
        label: `Test points, against ${drawing.negative ?? 'battery negative'}`,
        options: drawing.points.map((p) => ({ value: `leads:${p.id}`, label: `${p.id} · ${p.about}` })),
      },
      {
        label: 'Pickup clip',
        options: drawing.leads.map((id) => ({ value: `pickup:${id}`, label: `pickup round ${id}` })),
      },
      {
        label: 'Current clamp',
        options: drawing.wires.map((w) => ({ value: `clamp:${w.id}`, label: `clamp round ${w.id} · ${w.label}` })),
      },
    ],
    [drawing],
  );
  const at = level.trim() === '' ? null : Number(level.replace(',', '.'));
  const wrong = at !== null && !Number.isFinite(at);
  const looks = channels.flatMap((c) => {
    const looks = whole(said[c] ?? {});
    return looks ? [looks] : [];
  });
  const missing = predictions && looks.length < channels.length;
  const ready = channels.length > 0 && !wrong && !missing;
  const scope: Scope = {
    channels: channels.map((c) => probe(c, drawing.negative ?? '')),
    sweep_s: sweep,
    level: wrong ? null : at,
    falling,
    attenuation,
    acquire,
  };
  const pictures = usePatterns(predictions ? attempt?.id : undefined, attempt?.steps ?? 0, scope);
  const capture = async () => {
    const done = await onCapture(scope, predictions ? looks : []);
    if (!done) return;
    setSaid({});
    // The screen has the room; for the next one they are opened again.
    setOpen(false);
  };
  const say = (channel: string, more: Said) => setSaid((old) => ({ ...old, [channel]: { ...old[channel], ...more } }));
  return (
    <form
      className="scope-controls"
      aria-label="Oscilloscope"
      onSubmit={(e) => {
        e.preventDefault();
        if (ready) void capture();
      }}
    >
      <Select
        id="scope-channels"
        ref={first}
        aria-label="Channels"
        mode="multiple"
        maxCount={MOST}
        className="grow"
        showSearch={{ optionFilterProp: 'label', filterSort: nearest }}
        placeholder="Channels: a test point, pickup W12, clamp W6 …"
        value={channels}
        onChange={(chosen: string[]) => {
          setChannels(chosen);
          setOpen(true);
        }}
        options={options}
        maxTagCount="responsive"
      />
      <label>
        sweep{' '}
        <select id="scope-sweep" value={sweep} onChange={(e) => setSweep(Number(e.target.value))}>
          {sweeps.map((s) => (
            <option key={s} value={s}>
              {time(s)}
            </option>
          ))}
        </select>
      </label>
      <label>
        trigger{' '}
        <input
          id="scope-level"
          value={level}
          onChange={(e) => setLevel(e.target.value)}
          size={5}
          placeholder="free"
          aria-invalid={wrong}
        />
      </label>
      <select
        aria-label="Edge"
        value={falling ? 'falling' : 'rising'}
        onChange={(e) => setFalling(e.target.value === 'falling')}
      >
        <option value="rising">rising</option>
        <option value="falling">falling</option>
      </select>
      <select
        id="scope-attenuation"
        aria-label="Attenuation of the leads"
        value={attenuation}
        onChange={(e) => setAttenuation(e.target.value === '×1' ? '×1' : '×10')}
      >
        <option>×1</option>
        <option>×10</option>
      </select>
      <select
        id="scope-acquire"
        aria-label="Of each column it keeps"
        value={acquire}
        onChange={(e) => setAcquire(e.target.value === 'sample' ? 'sample' : 'peak')}
      >
        <option value="peak">peaks</option>
        <option value="sample">samples</option>
      </select>
      <Button htmlType="submit" id="scope-capture" disabled={busy || !ready}>
        Capture
      </Button>
      {predictions && channels.length > 0 && !open && (
        <div className="next-screen">
          <Button size="small" id="next-screen" onClick={() => setOpen(true)}>
            What will the next screen show?
          </Button>
        </div>
      )}
      {predictions && channels.length > 0 && open && (
        <div className="looks">
          Healthy:
          {channels.map((channel, n) => {
            const among = pictures?.[n];
            if (!pictures)
              return (
                <span key={channel} className="quiet" role="status">
                  {n === 0 && 'Drawing what it may show …'}
                </span>
              );
            // One picture alone is no choice.
            if (among && among.patterns.length > 1)
              return (
                <div key={channel} className="channel-patterns">
                  <span>
                    {n + 1} {among.name}
                  </span>
                  <ChoosePattern of={among} chosen={whole(said[channel] ?? {})} onChoose={(l) => say(channel, l)} />
                </div>
              );
            const unit = channel.startsWith('clamp:') ? 'A' : 'V';
            const name = channel.slice(channel.indexOf(':') + 1);
            return (
              <span key={channel}>
                {n + 1}{' '}
                <SayLooks name={name} unit={unit} said={said[channel] ?? {}} onSay={(more) => say(channel, more)} />
              </span>
            );
          })}
        </div>
      )}
    </form>
  );
}

/** What begins with what was typed comes first, and of those the shortest name: T1.1 before T1.15. */
function nearest(a: Channel, b: Channel, { searchValue }: { searchValue: string }): number {
  const typed = searchValue.trim().toLowerCase();
  const name = ({ label }: Channel) => (typeof label === 'string' ? (label.toLowerCase().split(' · ')[0] ?? '') : '');
  const rank = (channel: Channel) => (name(channel).startsWith(typed) ? name(channel).length : Infinity);
  return rank(a) === rank(b) ? 0 : rank(a) - rank(b);
}

function probe(channel: string, negative: string): ScopeProbe {
  const at = channel.indexOf(':');
  const id = channel.slice(at + 1);
  switch (channel.slice(0, at)) {
    case 'pickup':
      return { with: 'pickup', lead: id };
    case 'clamp':
      return { with: 'clamp', wire: id };
    default:
      return { with: 'leads', red: id, black: negative };
  }
}
