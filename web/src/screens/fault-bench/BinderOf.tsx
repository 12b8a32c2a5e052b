// The binder that a machine comes with: which other diagrams lie in it, and what of it is another variant's.
import { useQuery } from '@tanstack/react-query';
import { Checkbox, Collapse, Select } from 'antd';

import { api, ask, type Schemas } from '../../api/client';

export type NewBinder = Schemas['NewBinder'];
type Props = { circuit: number; binder?: NewBinder; onChange: (binder?: NewBinder) => void };

export function BinderOf({ circuit, binder, onChange }: Props) {
  const circuits = useQuery({
    queryKey: ['circuits'],
    queryFn: () => ask(api.GET('/api/circuits')),
    enabled: !!binder,
  });
  const choices = useQuery({
    queryKey: ['binder-of', circuit],
    queryFn: () => ask(api.GET('/api/circuits/{id}/binder', { params: { path: { id: circuit } } })),
    enabled: !!binder,
  });
  const change = (part: Partial<NewBinder>) => onChange({ ...binder, ...part });
  const others = circuits.data?.filter((c) => c.id !== circuit && !c.put_away) ?? [];
  return (
    <Collapse
      size="small"
      items={[
        {
          key: 'binder',
          label: `The machine’s papers as a binder${binder ? ' · yes' : ''}`,
          children: (
            <div className="stack">
              <Checkbox
                id="has-binder"
                checked={!!binder}
                onChange={(e) => onChange(e.target.checked ? {} : undefined)}
              >
                Students look sheets up in a binder, a minute each
              </Checkbox>
              <p className="quiet close">
                The diagram has to be found there too. Connector views, locations, specifications, pin charts and fuses
                are made of the circuit.
              </p>
              {binder && (
                <>
                  <label>
                    <span className="field-label">Other circuits of the machine in it</span>
                    <Select
                      id="binder-others"
                      mode="multiple"
                      className="whole-width"
                      value={binder.others ?? []}
                      onChange={(chosen) => change({ others: chosen })}
                      optionFilterProp="label"
                      options={others.map((c) => ({ value: c.id, label: c.title }))}
                    />
                  </label>
                  <label>
                    <span className="field-label">A connector that is another variant’s on its sheet</span>
                    <Select
                      id="binder-variant"
                      className="whole-width"
                      allowClear
                      placeholder="none: all sheets are this machine’s"
                      value={binder.variant ?? undefined}
                      onChange={(chosen?: string) => change({ variant: chosen })}
                      options={choices.data?.variants.map((id) => ({ value: id, label: id }))}
                    />
                  </label>
                </>
              )}
            </div>
          ),
        },
      ]}
    />
  );
}
