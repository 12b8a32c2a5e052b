// What can be done with the chosen place in the workshop.
import { Button, Dropdown } from 'antd';

import type { CircuitDoc, Drawing, KindItem } from '../../api/client';
import { goesIntoWires, putInto, takeOut } from './edits';

type Props = {
  place: string;
  drawing: Drawing;
  kinds: readonly KindItem[];
  /** A wire has been begun here. */
  from?: string;
  onWire: (point: string | undefined) => void;
  change: (make: (doc: CircuitDoc) => CircuitDoc) => void;
};

export function PlaceEdits({ place, drawing, kinds, from, onWire, change }: Props) {
  const isPoint = drawing.points.some((p) => p.id === place);
  const isWire = drawing.wires.some((w) => w.id === place);
  const cavity = drawing.cavities.find((c) => c.id === place);
  const known = [...drawing.parts.map((p) => p.id), ...drawing.grounds.map((g) => g.id), ...drawing.splices];
  const thing = isWire || known.includes(place) ? place : cavity?.connector;
  return (
    <>
      {from ? (
        <Button size="small" id="wire-cancel" onClick={() => onWire(undefined)}>
          No wire from {from}
        </Button>
      ) : (
        isPoint && (
          <Button size="small" id="wire-from" onClick={() => onWire(place)}>
            Wire from here
          </Button>
        )
      )}
      {isWire && (
        <Dropdown
          trigger={['click']}
          menu={{
            style: { maxHeight: 360, overflowY: 'auto' },
            items: goesIntoWires(kinds).map(({ what, title }) => ({ key: what, label: title })),
            onClick: ({ key }) => change((doc) => putInto(doc, place, key, kinds)),
          }}
        >
          <Button size="small" id="put-into">
            Put into {place} ▾
          </Button>
        </Dropdown>
      )}
      {thing && (
        <Button size="small" id="take-out" onClick={() => change((doc) => takeOut(doc, thing))}>
          Take {thing} out
        </Button>
      )}
    </>
  );
}
