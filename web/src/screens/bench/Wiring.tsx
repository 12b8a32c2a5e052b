// Wiring a machine that is to be built: what is in, a wire by its ends and size, or a whole path as one says it.
import { Button } from 'antd';
import { forwardRef, useImperativeHandle, useRef, useState } from 'react';

import type { Action, AttemptView, Schemas } from '../../api/client';
import { useChoose } from '../../diagram/chosen';
import './Wiring.css';

type Build = NonNullable<AttemptView['build']>;
type WireDoc = Schemas['WireDoc'];

type Props = {
  attempt: AttemptView;
  build: Build;
  act: (action: Action) => Promise<unknown>;
  busy: boolean;
};

export type WiringHandle = { focus: () => void };

const EMPTY = { id: '', from: '', to: '', area: '', length: '', color: '' };

type Field = { key: keyof typeof EMPTY; label: string; hint: string; ends?: boolean; number?: boolean };

/** What is said of a wire, in the order of a wire list; its number only where there is one. */
const FIELDS: Field[] = [
  { key: 'id', label: 'Number', hint: 'W…' },
  { key: 'from', label: 'From', hint: 'from', ends: true },
  { key: 'to', label: 'To', hint: 'to', ends: true },
  { key: 'area', label: 'Area in mm²', hint: 'mm²', number: true },
  { key: 'length', label: 'Length in metres', hint: 'm', number: true },
  { key: 'color', label: 'Colour', hint: 'colour' },
];

export const Wiring = forwardRef<WiringHandle, Props>(function Wiring({ attempt, build, act, busy }, handle) {
  const view = attempt.bench;
  const wires = view.wires ?? [];
  const own = wires.filter((w) => !build.given.includes(w.id));
  const [draft, setDraft] = useState(EMPTY);
  const [path, setPath] = useState('');
  // What was taken out last can go in again.
  const [taken, setTaken] = useState<WireDoc>();
  const from = useRef<HTMLInputElement>(null);
  useImperativeHandle(handle, () => ({ focus: () => from.current?.focus() }));
  const { choose } = useChoose();
  const closed = view.handed_in;
  const set = (part: Partial<typeof EMPTY>) => setDraft((old) => ({ ...old, ...part }));
  const put = async (wire: WireDoc) => {
    const done = await act({ do: 'wire', wire });
    if (done) choose(wire.id);
    return done;
  };
  const add = async () => {
    const wire: WireDoc = {
      id: draft.id.trim().toUpperCase() || nextId([...wires.map((w) => w.id), ...build.list.map((w) => w.id)]),
      from: draft.from.trim(),
      to: draft.to.trim(),
      area_mm2: draft.area ? Number(draft.area.replace(',', '.')) : null,
      length_m: draft.length ? Number(draft.length.replace(',', '.')) : null,
      color: draft.color.trim().toUpperCase() || null,
    };
    if (await put(wire)) {
      setDraft({ ...EMPTY, area: draft.area, length: draft.length });
      from.current?.focus();
    }
  };
  const say = async () => {
    if (await act({ do: 'say_path', line: path })) setPath('');
  };
  const takeOut = async (wire: WireDoc) => {
    if (await act({ do: 'unwire', wire: wire.id })) setTaken(wire);
  };
  const putBack = async () => {
    if (taken && (await put(taken))) setTaken(undefined);
  };
  const ready = draft.from.trim() !== '' && draft.to.trim() !== '' && Number(draft.area.replace(',', '.')) > 0;
  return (
    <section aria-label="Wiring" className="in-reasoning wiring">
      <h2>
        Wiring{' '}
        <span className="quiet count" role="status" id="wired-count">
          {own.length} put in
          {build.list.length > 0 && ` of ${build.list.length} listed`}
        </span>
      </h2>
      {!closed && (
        <>
          <form
            className="new-wire"
            onSubmit={(e) => {
              e.preventDefault();
              if (ready && !busy) void add();
            }}
          >
            {FIELDS.filter((f) => f.key !== 'id' || build.list.length > 0).map((f) => (
              <input
                key={f.key}
                ref={f.key === 'from' ? from : undefined}
                className={f.ends ? 'text-field mono end' : 'text-field mono'}
                aria-label={f.label}
                placeholder={f.hint}
                list={f.ends ? 'wire-ends' : undefined}
                inputMode={f.number ? 'decimal' : undefined}
                value={draft[f.key]}
                onChange={(e) => set({ [f.key]: e.target.value })}
              />
            ))}
            <Button id="put-wire" htmlType="submit" disabled={!ready || busy}>
              Put in
            </Button>
          </form>
          <datalist id="wire-ends">
            {build.ends.map((end) => (
              <option key={end} value={end} />
            ))}
          </datalist>
          <form
            className="row one-line"
            onSubmit={(e) => {
              e.preventDefault();
              if (path.trim() && !busy) void say();
            }}
          >
            <input
              className="text-field mono say"
              aria-label="Say a path"
              placeholder="or a path: F1.2 > 1.5 RD 0.6 > S1.1 > …"
              value={path}
              onChange={(e) => setPath(e.target.value)}
            />
            <Button htmlType="submit" disabled={!path.trim() || busy}>
              Say
            </Button>
          </form>
        </>
      )}
      <ul className="wires" aria-label="Wires put in">
        {own.map((w) => (
          <li key={w.id} data-wire={w.id}>
            <button type="button" className="piece" onClick={() => choose(w.id)}>
              <b className="mono">{w.id}</b> <span className="mono">{w.from}</span> –{' '}
              <span className="mono">{w.to}</span> <small>{sizeOf(w)}</small>
            </button>
            {!closed && (
              <Button size="small" aria-label={`Take out ${w.id}`} disabled={busy} onClick={() => void takeOut(w)}>
                Take out
              </Button>
            )}
          </li>
        ))}
      </ul>
      {taken && !closed && (
        <Button size="small" id="put-back" disabled={busy} onClick={() => void putBack()}>
          Put {taken.id} in again
        </Button>
      )}
      {(view.findings?.length ?? 0) > 0 && (
        <details className="small">
          <summary>{view.findings?.length} to look at</summary>
          <ul>
            {view.findings?.map((text) => (
              <li key={text}>{text}</li>
            ))}
          </ul>
        </details>
      )}
      {build.list.length > 0 && (
        <>
          <h3>Wire list</h3>
          <table className="sheet-table" aria-label="Wire list">
            <thead>
              <tr>
                <th>Wire</th>
                <th>From</th>
                <th>To</th>
                <th>Size</th>
              </tr>
            </thead>
            <tbody>
              {build.list.map((w) => (
                <tr key={w.id}>
                  <td className="mono">{w.id}</td>
                  <td className="mono">{w.from}</td>
                  <td className="mono">{w.to}</td>
                  <td>{sizeOf(w)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </>
      )}
    </section>
  );
});

/** "1.5 mm² RD/BU, 0.6 m". */
export function sizeOf(w: WireDoc): string {
  const area = typeof w.area_mm2 === 'number' ? `${w.area_mm2} mm²` : typeof w.awg === 'number' ? `AWG ${w.awg}` : '';
  const length = typeof w.length_m === 'number' ? `, ${w.length_m} m` : '';
  return `${[area, w.color].filter(Boolean).join(' ')}${length}`;
}

/** The first name that no wire has. */
export function nextId(used: string[]): string {
  let n = 1;
  while (used.includes(`W${n}`)) n += 1;
  return `W${n}`;
}
