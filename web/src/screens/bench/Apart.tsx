// Unplugging connectors, pulling fuses and relays, and putting them back.
import { Button, Select } from 'antd';

import type { Action, AttemptView } from '../../api/client';

export function Apart({ attempt, act }: { attempt: AttemptView; act: (action: Action) => Promise<unknown> }) {
  const { apart, handed_in: closed } = attempt.bench;
  const about = (id: string) => attempt.places.find((p) => p.id === id)?.about ?? 'connector';
  return (
    <section aria-label="Apart">
      <div className="row">
        <Select
          id="take-apart"
          aria-label="Unplug or pull"
          style={{ flex: 1, minWidth: 0 }}
          showSearch={{ optionFilterProp: 'label' }}
          placeholder="Unplug or pull: C12, F5 …"
          disabled={closed}
          value={null}
          onChange={(what: string | null) => what && void act({ do: 'take_apart', what })}
          options={attempt.comes_apart
            .filter((id) => !apart.includes(id))
            .map((id) => ({ value: id, label: `${id} · ${about(id)}` }))}
        />
        {apart.map((what) => (
          <Button key={what} size="small" disabled={closed} onClick={() => void act({ do: 'put_back', what })}>
            Put {what} back
          </Button>
        ))}
      </div>
    </section>
  );
}
