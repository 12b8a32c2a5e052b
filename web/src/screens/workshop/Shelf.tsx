// The shelf that new parts, connectors, splices and grounds come from.
import { Select } from 'antd';
import type { ComponentRef, Ref } from 'react';

import type { CircuitDoc, KindItem } from '../../api/client';

type Props = {
  field: Ref<ComponentRef<typeof Select>>;
  kinds: KindItem[];
  change: (make: (doc: CircuitDoc) => CircuitDoc) => void;
};

export function Shelf({ field, kinds, change }: Props) {
  const next = (letters: string, have: string[]) => {
    // There is mostly one battery, and it needs no number.
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
      const letters = kinds.find((k) => k.kind === what)?.letters ?? 'X';
      const id = next(letters, Object.keys(old.parts ?? {}));
      return { ...old, parts: { ...old.parts, [id]: { kind: what } } };
    });
  };
  return (
    <Select
      id="shelf"
      ref={field}
      aria-label="Parts shelf"
      className="whole-width"
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
  );
}
