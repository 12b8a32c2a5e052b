// Parts, connectors and grounds of the circuit, with what can be set of them.
import type { CircuitDoc, KindItem } from '../../api/client';
import { shownDegrees, typedDegrees, type Units } from '../../app/units';
import { Cell } from './Wires';
import './Wires.css';

type Props = {
  doc: CircuitDoc;
  kinds: KindItem[];
  change: (make: (doc: CircuitDoc) => CircuitDoc) => void;
  units: Units;
};

/** Parameters at hand; the others unfold. */
const AT_HAND = 2;

/** A parameter as a cell shows it; a table of its own is edited in the document. */
const plain = (value: unknown) => (typeof value === 'number' || typeof value === 'string' ? String(value) : '');

/** What a parameter does, what it usually is and what it may be. */
export function aboutOf({ about, unit, default: usual, range }: KindItem['params'][number]): string {
  const of = unit ? ` ${unit}` : '';
  const said = [about];
  if (usual !== null && usual !== undefined) said.push(`usually ${short(usual)}${of}`);
  const [least, most] = range ?? [];
  if (least !== undefined && most !== undefined) said.push(`${short(least)} to ${short(most)}${of}`);
  return said.join(' · ');
}

const short = (value: number) => String(Number(value.toPrecision(4)));

export function Parts({ doc, kinds, change, units }: Props) {
  const part = (id: string, key: string, value: unknown) =>
    change((old) => {
      const was = old.parts?.[id];
      return was ? { ...old, parts: { ...old.parts, [id]: { ...was, [key]: value } } } : old;
    });
  const param = (id: string, p: NonNullable<CircuitDoc['parts']>[string], q: KindItem['params'][number]) => {
    const value = p.params?.[q.name] ?? q.default;
    const warm = q.unit === '°C' && typeof value === 'number';
    return (
      <label key={q.name} className="param" title={aboutOf(q)}>
        {q.name.replaceAll('_', ' ')}
        <Cell
          label={`${id} ${q.name}`}
          value={warm ? String(shownDegrees(value, units)) : plain(value)}
          onValue={(t) =>
            part(id, 'params', { ...p.params, [q.name]: warm ? typedDegrees(Number(t), units) : Number(t) })
          }
        />
        {warm && units === 'AWG, °F' ? '°F' : q.unit}
      </label>
    );
  };
  return (
    <table className="wires" aria-label="Parts">
      <tbody>
        {Object.entries(doc.parts ?? {}).map(([id, p]) => {
          const kind = kinds.find((k) => k.kind === p.kind);
          const numbers = kind?.params.filter((q) => q.unit !== null && q.unit !== undefined) ?? [];
          return (
            <tr key={id}>
              <td className="id">{id}</td>
              <td>
                <Cell
                  label={`${id} name`}
                  value={p.name ?? kind?.title ?? ''}
                  onValue={(t) => part(id, 'name', t || undefined)}
                />
              </td>
              <td>
                {numbers.slice(0, AT_HAND).map((q) => param(id, p, q))}
                <details>
                  <summary className="quiet">more</summary>
                  {numbers.slice(AT_HAND).map((q) => param(id, p, q))}
                  {numbers.length > 0 && (
                    <dl className="abouts">
                      {numbers.map((q) => (
                        <div key={q.name}>
                          <dt>{q.name.replaceAll('_', ' ')}</dt>
                          <dd>{aboutOf(q)}</dd>
                        </div>
                      ))}
                    </dl>
                  )}
                  <Reach
                    label={`${id} minutes to reach`}
                    value={p.reach_min}
                    onValue={(t) => part(id, 'reach_min', t)}
                  />
                </details>
              </td>
              <td>
                <Cell
                  label={`${id} bolted to`}
                  value={p.mount ?? ''}
                  onValue={(t) => part(id, 'mount', t || undefined)}
                />
              </td>
              <td>
                <button
                  type="button"
                  className="plain"
                  aria-label={`Take ${id} out`}
                  onClick={() =>
                    change((old) => ({
                      ...old,
                      parts: Object.fromEntries(Object.entries(old.parts ?? {}).filter(([k]) => k !== id)),
                    }))
                  }
                >
                  ×
                </button>
              </td>
            </tr>
          );
        })}
        {Object.entries(doc.connectors ?? {}).map(([id, c]) => (
          <tr key={id}>
            <td className="id">{id}</td>
            <td>connector</td>
            <td>
              <label className="param">
                cavities
                <Cell
                  label={`${id} cavities`}
                  value={String(c.cavities)}
                  onValue={(t) =>
                    change((old) => ({
                      ...old,
                      connectors: {
                        ...old.connectors,
                        [id]: { ...c, cavities: Math.max(1, Math.round(Number(t)) || 1) },
                      },
                    }))
                  }
                />
              </label>
              <Reach
                label={`${id} minutes to reach`}
                value={c.reach_min}
                onValue={(t) =>
                  change((old) => ({ ...old, connectors: { ...old.connectors, [id]: { ...c, reach_min: t } } }))
                }
              />
            </td>
            <td colSpan={2}>
              <Cell
                label={`${id} place`}
                value={c.place ?? ''}
                onValue={(t) =>
                  change((old) => ({
                    ...old,
                    connectors: { ...old.connectors, [id]: { ...c, place: t || undefined } },
                  }))
                }
              />
            </td>
          </tr>
        ))}
        {Object.entries(doc.grounds ?? {}).map(([id, g]) => (
          <tr key={id}>
            <td className="id">{id}</td>
            <td>ground on</td>
            <td colSpan={3}>
              <Cell
                label={`${id} metal`}
                value={g.metal}
                onValue={(t) =>
                  t && change((old) => ({ ...old, grounds: { ...old.grounds, [id]: { ...g, metal: t } } }))
                }
              />
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** Minutes that it takes to reach something; empty as usual. */
function Reach(props: { label: string; value?: number | null; onValue: (minutes: number | undefined) => void }) {
  return (
    <label className="param">
      to reach
      <Cell
        label={props.label}
        value={String(props.value ?? '')}
        onValue={(t) => props.onValue(t === '' ? undefined : Number(t.replace(',', '.')))}
      />
      min
    </label>
  );
}
