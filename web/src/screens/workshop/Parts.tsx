// Parts, connectors and grounds of the circuit, with what can be set of them.
import type { CircuitDoc, KindItem } from '../../api/client';
import { Cell } from './Wires';

type Props = { doc: CircuitDoc; kinds: KindItem[]; change: (make: (doc: CircuitDoc) => CircuitDoc) => void };

export function Parts({ doc, kinds, change }: Props) {
  const part = (id: string, key: string, value: unknown) =>
    change((old) => {
      const was = old.parts?.[id];
      return was ? { ...old, parts: { ...old.parts, [id]: { ...was, [key]: value } } } : old;
    });
  return (
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
                        {q.name.replaceAll('_', ' ')}
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
                  cavities
                  <Cell
                    label={`${id} cavities`}
                    value={String(c.cavities)}
                    onValue={(t) => change((old) => ({ ...old, connectors: { ...old.connectors, [id]: { ...c, cavities: Math.max(1, Math.round(Number(t)) || 1) } } }))}
                  />
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
  );
}
