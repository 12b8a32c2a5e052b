// Parts, connectors, splices and grounds of the circuit, and the shelf new ones come from.
import { Select } from 'antd';

import type { CircuitDoc, KindItem } from '../../api/client';
import { Cell } from './Wires';

type Props = { doc: CircuitDoc; kinds: KindItem[]; change: (make: (doc: CircuitDoc) => CircuitDoc) => void };

/** Letters that ids of a kind begin with. */
const LETTERS: [RegExp, string][] = [
  [/battery/, 'BAT'],
  [/fuse|link|breaker/, 'F'],
  [/relay/, 'K'],
  [/switch|button|key/, 'S'],
  [/starter|blower/, 'M'],
  [/lamp|horn|led/, 'H'],
  [/module/, 'U'],
  [/sensor|potentiometer|thermistor|sender/, 'B'],
];

export function Shelf({ doc, kinds, change }: Props) {
  const next = (letters: string, have: string[]) => {
    if (letters === 'BAT' && !have.includes('BAT')) return 'BAT';
    for (let n = 1; ; n++) if (!have.includes(`${letters}${n}`)) return `${letters}${n}`;
  };
  const add = (what: string | null) => {
    if (!what) return;
    change((old) => {
      if (what === 'connector') {
        const id = next('C', Object.keys(old.connectors ?? {}));
        return { ...old, connectors: { ...old.connectors, [id]: { cavities: 2 } } };
      }
      if (what === 'splice') {
        const id = next('SP', Object.keys(old.splices ?? {}));
        return { ...old, splices: { ...old.splices, [id]: {} } };
      }
      if (what === 'ground') {
        const id = next('G', Object.keys(old.grounds ?? {}));
        return { ...old, grounds: { ...old.grounds, [id]: { metal: 'body' } } };
      }
      const letters = LETTERS.find(([like]) => like.test(what))?.[1] ?? 'X';
      const id = next(letters, Object.keys(old.parts ?? {}));
      return { ...old, parts: { ...old.parts, [id]: { kind: what } } };
    });
  };
  const part = (id: string, key: string, value: unknown) =>
    change((old) => {
      const was = old.parts?.[id];
      return was ? { ...old, parts: { ...old.parts, [id]: { ...was, [key]: value } } } : old;
    });
  return (
    <>
      <Select
        id="shelf"
        aria-label="Parts shelf"
        style={{ width: '100%' }}
        showSearch={{ optionFilterProp: 'label' }}
        placeholder="Parts shelf: type to find, Enter to place  [P]"
        value={null}
        onChange={add}
        options={[
          { value: 'connector', label: 'connector' },
          { value: 'splice', label: 'splice' },
          { value: 'ground', label: 'ground point' },
          ...kinds.map((k) => ({ value: k.kind, label: k.title })),
        ]}
      />
      <table className="wires" aria-label="Parts">
        <tbody>
          {Object.entries(doc.parts ?? {}).map(([id, p]) => {
            const kind = kinds.find((k) => k.kind === p.kind);
            return (
              <tr key={id}>
                <td className="id">{id}</td>
                <td>
                  <Cell label={`${id} name`} value={p.name ?? kind?.title ?? ''} onValue={(t) => part(id, 'name', t || undefined)} />
                </td>
                <td>
                  {kind?.params
                    .filter((q) => q.unit !== null && q.unit !== undefined)
                    .slice(0, 2)
                    .map((q) => (
                      <label key={q.name} className="param" title={q.about}>
                        <Cell
                          label={`${id} ${q.name}`}
                          value={String(p.params?.[q.name] ?? q.default ?? '')}
                          onValue={(t) => part(id, 'params', { ...p.params, [q.name]: Number(t) })}
                        />
                        {q.unit}
                      </label>
                    ))}
                </td>
                <td>
                  <Cell label={`${id} bolted to`} value={p.mount ?? ''} onValue={(t) => part(id, 'mount', t || undefined)} />
                </td>
                <td>
                  <button
                    type="button"
                    className="plain"
                    aria-label={`Take ${id} out`}
                    onClick={() =>
                      change((old) => ({ ...old, parts: Object.fromEntries(Object.entries(old.parts ?? {}).filter(([k]) => k !== id)) }))
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
                  <Cell
                    label={`${id} cavities`}
                    value={String(c.cavities)}
                    onValue={(t) => change((old) => ({ ...old, connectors: { ...old.connectors, [id]: { ...c, cavities: Math.max(1, Math.round(Number(t)) || 1) } } }))}
                  />
                  cavities
                </label>
              </td>
              <td colSpan={2}>
                <Cell
                  label={`${id} place`}
                  value={c.place ?? ''}
                  onValue={(t) => change((old) => ({ ...old, connectors: { ...old.connectors, [id]: { ...c, place: t || undefined } } }))}
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
                  onValue={(t) => t && change((old) => ({ ...old, grounds: { ...old.grounds, [id]: { ...g, metal: t } } }))}
                />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
