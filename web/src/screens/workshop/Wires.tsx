// The wire list, filled from the keyboard: the last row is a new wire.
import { useState, type ReactNode } from 'react';

import type { CircuitDoc, Finding, WireDoc } from '../../api/client';
import { LEADS, shownSize, typedSize, type Units } from '../../app/units';
import { useChoose, useIsLit, useLighting } from '../../diagram/chosen';
import { COLOUR_CODES } from '../../diagram/colours';
import './Wires.css';

type Props = {
  doc: CircuitDoc;
  terminals: string[];
  findings: Finding[];
  change: (make: (doc: CircuitDoc) => CircuitDoc) => void;
  units: Units;
};

const FIELDS = ['id', 'from', 'to', 'area_mm2', 'length_m', 'color', 'harness'] as const;
type Field = (typeof FIELDS)[number];
const HEADS: Record<Field, string> = {
  id: 'id',
  from: 'from',
  to: 'to',
  area_mm2: 'mm²',
  length_m: 'm',
  color: 'colour',
  harness: 'harness',
};

export function Wires({ doc, terminals, findings, change, units }: Props) {
  const head = (f: Field) => (f === 'area_mm2' && units === 'AWG, °F' ? 'AWG' : HEADS[f]);
  const shown = (wire: WireDoc | undefined, f: Field) =>
    wire && f === 'area_mm2' ? shownSize(wire, units) : String(wire?.[f] ?? '');
  const wires = doc.wires ?? [];
  const harnesses = [...new Set(wires.map((w) => w.harness).filter((h): h is string => !!h))];
  const set = (at: number, field: Field, text: string) => {
    change((old) => ({ ...old, wires: (old.wires ?? []).map((w, n) => (n === at ? put(w, field, text, units) : w)) }));
  };
  const add = (field: Field, text: string) => {
    const numbers = wires.map((w) => Number(/^W(\d+)$/.exec(w.id)?.[1] ?? 0));
    const wire = { id: `W${Math.max(0, ...numbers) + 1}`, from: '', to: '' };
    change((old) => ({ ...old, wires: [...(old.wires ?? []), put(wire, field, text, units)] }));
  };
  const remove = (at: number) => change((old) => ({ ...old, wires: (old.wires ?? []).filter((_, n) => n !== at) }));
  return (
    <>
      <table className="wires" aria-label="Wires">
        <thead>
          <tr>
            {FIELDS.map((f) => (
              <th key={f}>{head(f)}</th>
            ))}
            <th />
          </tr>
        </thead>
        <tbody>
          {[...wires, undefined].map((wire, n) => {
            const wrong = findings.filter((p) => p.path === `wires[${n}]` || p.path.startsWith(`wires[${n}].`));
            return (
              <Row key={n} id={wire?.id ?? ''} wrong={wrong.map((p) => p.message).join(' ')}>
                {FIELDS.map((f) => (
                  <td key={f} className={f}>
                    <Cell
                      label={wire ? `${wire.id} ${head(f)}` : `new wire ${head(f)}`}
                      list={
                        f === 'from' || f === 'to'
                          ? 'terminals'
                          : f === 'area_mm2'
                            ? 'leads'
                            : f === 'color'
                              ? 'colours'
                              : f === 'harness'
                                ? 'harnesses'
                                : undefined
                      }
                      value={shown(wire, f)}
                      onValue={(text) => {
                        const unread = cannotRead(f, text, units);
                        if (unread) return unread;
                        if (wire) set(n, f, text);
                        else if (text !== '') add(f, text);
                      }}
                    />
                  </td>
                ))}
                <td>
                  {wire && (
                    <button
                      type="button"
                      className="plain"
                      aria-label={`Take ${wire.id} out`}
                      onClick={() => remove(n)}
                    >
                      ×
                    </button>
                  )}
                </td>
              </Row>
            );
          })}
        </tbody>
      </table>
      <List id="terminals" values={terminals} />
      <List id="colours" values={COLOUR_CODES} />
      <List id="harnesses" values={harnesses} />
      <List id="leads" values={Object.values(LEADS)} />
    </>
  );
}

function List({ id, values }: { id: string; values: string[] }) {
  return (
    <datalist id={id}>
      {values.map((v) => (
        <option key={v} value={v} />
      ))}
    </datalist>
  );
}

/** A field that tells its text when one leaves it or presses Enter. What is answered with a sentence could not be
 * read: it stays as it was typed, with the sentence under it. */
export function Cell(props: { label: string; list?: string; value: string; onValue: (text: string) => string | void }) {
  const [typed, setTyped] = useState<string>();
  const [unread, setUnread] = useState<string>();
  const settle = (unread?: string) => {
    setUnread(unread);
    if (!unread) setTyped(undefined);
  };
  const tell = () => settle((typed !== undefined && typed !== props.value && props.onValue(typed.trim())) || undefined);
  return (
    <>
      <input
        aria-label={props.label}
        aria-invalid={unread !== undefined}
        list={props.list}
        value={typed ?? props.value}
        autoComplete="off"
        onChange={(e) => setTyped(e.target.value)}
        onBlur={tell}
        onKeyDown={(e) => {
          if (e.key === 'Enter') tell();
          if (e.key === 'Escape') settle();
        }}
      />
      {unread && (
        <span role="alert" className="unread">
          {props.label}: {unread}
        </span>
      )}
    </>
  );
}

/** Why a size or a length cannot be read. */
function cannotRead(field: Field, text: string, units: Units): string | undefined {
  if (text === '') return undefined;
  if (field === 'area_mm2' && !typedSize(text, units)) {
    return `“${text}” is no size: expected mm² such as 1.5, a gauge such as 16 AWG, or ${Object.values(LEADS).join(', ')} for a high-voltage lead.`;
  }
  if (field === 'length_m' && !Number.isFinite(metres(text)))
    return `“${text}” is no length: expected metres such as 0.9.`;
  return undefined;
}

const metres = (text: string) => Number(text.replace(',', '.'));

/** A wire with one field as typed, which can be read; an empty field is left out. */
function put(wire: WireDoc, field: Field, text: string, units: Units): WireDoc {
  if (field === 'id' || field === 'from' || field === 'to') return { ...wire, [field]: text };
  if (field === 'area_mm2') {
    const size = text === '' ? {} : typedSize(text, units);
    return { ...wire, area_mm2: undefined, awg: undefined, lead: undefined, ...size };
  }
  if (text === '') return { ...wire, [field]: undefined };
  if (field === 'length_m') return { ...wire, [field]: metres(text) };
  return { ...wire, [field]: field === 'color' ? text.toUpperCase() : text };
}

/** A wire's row; it lights up with the diagram. */
function Row({ id, wrong, children }: { id: string; wrong: string; children: ReactNode }) {
  const lit = useIsLit(id) && id !== '';
  const { choose } = useChoose();
  const classes = [wrong && 'wrong', lit && 'lit'].filter(Boolean).join(' ');
  return (
    <tr
      className={classes || undefined}
      title={wrong || undefined}
      {...useLighting(id)}
      onFocus={() => choose(id || null)}
    >
      {children}
    </tr>
  );
}
