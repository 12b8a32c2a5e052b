// The shelf that new parts, connectors, splices and grounds come from.
import { Select } from 'antd';
import type { ComponentRef, Ref } from 'react';

import type { CircuitDoc, KindItem } from '../../api/client';
import { place } from './edits';

type Props = {
  field: Ref<ComponentRef<typeof Select>>;
  kinds: KindItem[];
  change: (make: (doc: CircuitDoc) => CircuitDoc) => void;
};

export function Shelf({ field, kinds, change }: Props) {
  const add = (what: string | null) => {
    if (what) change((old) => place(old, what, kinds)[0]);
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
