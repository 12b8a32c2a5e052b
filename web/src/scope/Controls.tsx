// How the oscilloscope is set: what its channels are put to, the sweep, the trigger.
import { Button, Select } from 'antd';
import { useMemo, useState } from 'react';

import type { Drawing, Scope, ScopeProbe } from '../api/client';
import { time } from './Screen';

type Props = {
  drawing: Drawing;
  sweeps: number[];
  busy: boolean;
  onCapture: (scope: Scope) => void;
};

const MOST = 4;

export function Controls({ drawing, sweeps, busy, onCapture }: Props) {
  const [channels, setChannels] = useState<string[]>([]);
  const [sweep, setSweep] = useState(sweeps[5] ?? 0.02);
  const [level, setLevel] = useState('');
  const [falling, setFalling] = useState(false);
  const options = useMemo(
    () => [
      { label: 'Test points, against BAT.-', options: drawing.points.map((p) => ({ value: `leads:${p.id}`, label: `${p.id} · ${p.about}` })) },
      { label: 'Pickup clip', options: drawing.leads.map((id) => ({ value: `pickup:${id}`, label: `pickup round ${id}` })) },
      { label: 'Current clamp', options: drawing.wires.map((w) => ({ value: `clamp:${w.id}`, label: `clamp round ${w.id} · ${w.label}` })) },
    ],
    [drawing],
  );
  const at = level.trim() === '' ? null : Number(level.replace(',', '.'));
  const wrong = at !== null && !Number.isFinite(at);
  const capture = () => onCapture({ channels: channels.map(probe), sweep_s: sweep, level: at, falling });
  return (
    <form
      className="scope-controls"
      aria-label="Oscilloscope"
      onSubmit={(e) => {
        e.preventDefault();
        if (channels.length > 0 && !wrong) capture();
      }}
    >
      <Select
        id="scope-channels"
        aria-label="Channels"
        mode="multiple"
        maxCount={MOST}
        style={{ flex: 1, minWidth: 0 }}
        showSearch={{ optionFilterProp: 'label' }}
        placeholder="Channels: a test point, pickup W12, clamp W6 …"
        value={channels}
        onChange={setChannels}
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
        <input id="scope-level" value={level} onChange={(e) => setLevel(e.target.value)} size={5} placeholder="free" aria-invalid={wrong} />
      </label>
      <select aria-label="Edge" value={falling ? 'falling' : 'rising'} onChange={(e) => setFalling(e.target.value === 'falling')}>
        <option value="rising">rising</option>
        <option value="falling">falling</option>
      </select>
      <Button htmlType="submit" id="scope-capture" disabled={busy || channels.length === 0 || wrong}>
        Capture
      </Button>
    </form>
  );
}

function probe(channel: string): ScopeProbe {
  const at = channel.indexOf(':');
  const id = channel.slice(at + 1);
  switch (channel.slice(0, at)) {
    case 'pickup':
      return { with: 'pickup', lead: id };
    case 'clamp':
      return { with: 'clamp', wire: id };
    default:
      return { with: 'leads', red: id, black: 'BAT.-' };
  }
}
