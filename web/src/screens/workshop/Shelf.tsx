// The shelf that new parts, connectors, splices and grounds come from: typed for, or looked at.
import { Button, Grid, Popover, Select } from 'antd';
import { useState, type ComponentRef, type Ref } from 'react';

import type { CircuitDoc, KindItem } from '../../api/client';
import { UprightSymbol } from '../../diagram/symbols';
import { place } from './edits';
import './Shelf.css';

type Props = {
  field: Ref<ComponentRef<typeof Select>>;
  kinds: KindItem[];
  change: (make: (doc: CircuitDoc) => CircuitDoc) => void;
};

type Thing = { what: string; title: string; about?: string };

/** What joins parts and is none. */
const JOINTS: Thing[] = [
  { what: 'connector', title: 'Connector' },
  { what: 'splice', title: 'Splice' },
  { what: 'ground', title: 'Ground point' },
];

/** Everything by the shelf it lies on, in the order that it comes in. */
export function shelves(kinds: readonly KindItem[]): [string, Thing[]][] {
  const all = new Map<string, Thing[]>([['Connectors, splices, grounds', JOINTS]]);
  for (const k of kinds) {
    const thing = { what: k.kind, title: k.title, about: k.terminals.join(', ') };
    all.set(k.shelf, [...(all.get(k.shelf) ?? []), thing]);
  }
  return [...all];
}

/** What would leave the screen at the side is moved in. */
const SHIFTED = { overflow: { shiftX: true, adjustY: true } };

export function Shelf({ field, kinds, change }: Props) {
  const [open, setOpen] = useState(false);
  // Beside the shelf where there is a diagram to see the part appear on, else below it.
  const wide = Grid.useBreakpoint().lg;
  const add = (what: string | null) => {
    if (what) change((old) => place(old, what, kinds)[0]);
  };
  const all = shelves(kinds);
  return (
    <div className="row one-line">
      <Select
        id="shelf"
        ref={field}
        aria-label="Parts shelf"
        className="grow"
        showSearch={{ optionFilterProp: 'label' }}
        placeholder="Parts shelf: type to find, Enter to place  [P]"
        value={null}
        onChange={add}
        options={all.map(([title, things]) => ({
          label: title,
          title,
          options: things.map((t) => ({ value: t.what, label: t.title })),
        }))}
      />
      <Popover
        trigger="click"
        placement={wide ? 'rightTop' : 'bottom'}
        align={wide ? undefined : SHIFTED}
        open={open}
        onOpenChange={setOpen}
        content={
          <div className="shelves" role="group" aria-label="Parts shelf with pictures">
            {all.map(([title, things]) => (
              <section key={title} aria-label={title}>
                <h3>{title}</h3>
                <div className="tiles">
                  {things.map((t) => (
                    <button
                      type="button"
                      key={t.what}
                      className="tile"
                      data-kind={t.what}
                      title={t.about && `Terminals ${t.about}`}
                      onClick={() => add(t.what)}
                    >
                      <Picture of={t.what} />
                      {t.title}
                    </button>
                  ))}
                </div>
              </section>
            ))}
          </div>
        }
      >
        <Button id="shelf-pictures" aria-expanded={open}>
          Pictures
        </Button>
      </Popover>
    </div>
  );
}

function Picture({ of }: { of: string }) {
  return (
    <svg viewBox="-13 -13 26 26" width={34} height={34} aria-hidden>
      {of === 'connector' ? (
        <path d="M0 -11V-3M0 11V3M-5 2A5 5 0 0 1 5 2" fill="none" stroke="currentColor" strokeWidth={1.3} />
      ) : of === 'splice' ? (
        <g stroke="currentColor" strokeWidth={1.3}>
          <path d="M0 -11V11M0 0H11" fill="none" />
          <circle r={2.4} fill="currentColor" />
        </g>
      ) : of === 'ground' ? (
        <path d="M0 -11V2M-9 2H9M-6 6H6M-3 10H3" fill="none" stroke="currentColor" strokeWidth={1.3} />
      ) : (
        <UprightSymbol of="part" kind={of} />
      )}
    </svg>
  );
}
