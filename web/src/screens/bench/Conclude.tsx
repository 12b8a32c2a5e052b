// Naming the fault, and repairing a place.
import { Button, Modal, Select } from 'antd';
import { useRef, useState, type ComponentRef } from 'react';

import type { Action, AttemptView } from '../../api/client';
import { useChosen } from '../../diagram/chosen';
import { HowMade, type Choices } from './HowMade';

type Props = {
  attempt: AttemptView;
  what: 'name' | 'repair' | null;
  onClose: () => void;
  act: (action: Action) => Promise<unknown>;
};

export function Conclude({ attempt, what, onClose, act }: Props) {
  // What is chosen on the diagram is what one means, until one says otherwise.
  const onDiagram = useChosen().chosen;
  const [said, setPlace] = useState<string>();
  const place = said ?? attempt.places.find((p) => p.id === onDiagram)?.id;
  const [how, setHow] = useState<string>();
  const [because, setBecause] = useState<number[]>([]);
  const [made, setMade] = useState<Choices>({});
  const first = useRef<ComponentRef<typeof Select>>(null);
  const chosen = attempt.places.find((p) => p.id === place);
  const naming = what === 'name';
  const ways: { value: string; label: string }[] | undefined = naming
    ? chosen?.modes.map((m) => ({ value: m.mode, label: `${m.mode.replaceAll('_', ' ')} · ${m.about}` }))
    : chosen?.repairs.map((r) => ({ value: r.how, label: r.text }));
  const repair = naming ? undefined : chosen?.repairs.find((r) => r.how === how);
  const asked = repair?.craft ?? [];
  const ready = !!place && !!how && asked.every((q) => made[q.word]);
  const close = () => {
    setPlace(undefined);
    setHow(undefined);
    setBecause([]);
    setMade({});
    onClose();
  };
  const done = async () => {
    if (!place || !how) return;
    if (naming) await act({ do: 'name_fault', place, mode: how, because });
    else if (repair) {
      const craft = attempt.craft ? { craft: made } : {};
      await act({ do: 'repair', place, how: repair.how, ...craft });
    }
    close();
  };
  return (
    <Modal
      title={naming ? 'Name the fault' : 'Repair a place'}
      open={what !== null}
      onCancel={close}
      closable={false}
      afterOpenChange={(open) => open && first.current?.focus()}
      footer={
        <>
          {naming && attempt.job === 'check_up_or_sound' && (
            <Button id="no-fault" onClick={() => void act({ do: 'find_no_fault' }).then(close)}>
              No fault found: back as it is
            </Button>
          )}
          <Button onClick={close}>Not yet</Button>
          <Button id="conclude" type="primary" disabled={!ready} onClick={() => void done()}>
            {naming ? 'Name it' : 'Repair it'}
          </Button>
        </>
      }
      destroyOnHidden
    >
      <div className="stack">
        <label>
          <span className="field-label">Place</span>
          <Select
            id="conclude-place"
            ref={first}
            className="whole-width"
            showSearch={{ optionFilterProp: 'label' }}
            placeholder="Type W8, C12, ground, relay …"
            value={place}
            onChange={(v: string) => {
              setPlace(v);
              setHow(undefined);
              setMade({});
            }}
            options={attempt.places.map((p) => ({ value: p.id, label: `${p.id} · ${p.about}` }))}
          />
        </label>
        <label>
          <span className="field-label">{naming ? 'How it failed' : 'What to do'}</span>
          <Select
            id="conclude-how"
            showSearch={{ optionFilterProp: 'label' }}
            className="whole-width"
            disabled={!chosen}
            value={how}
            onChange={(v: string) => {
              setHow(v);
              setMade({});
            }}
            options={ways}
          />
        </label>
        {asked.length > 0 && (
          <HowMade questions={asked} around={attempt.craft ?? ''} chosen={made} onChange={setMade} />
        )}
        {naming && attempt.bench.ledger.length > 0 && (
          <label>
            <span className="field-label">Readings that prove it</span>
            <Select
              mode="multiple"
              className="whole-width"
              value={because}
              onChange={setBecause}
              options={attempt.bench.ledger.map((l) => ({
                value: l.step,
                label: `${l.step}: ${l.red ?? '–'} · ${l.black ?? '–'} ${l.shown.text} ${l.shown.unit}`,
              }))}
            />
          </label>
        )}
      </div>
    </Modal>
  );
}
