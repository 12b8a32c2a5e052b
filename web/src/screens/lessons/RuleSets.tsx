// Rules that were kept under a name, to be used for another lesson.
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Button, Popconfirm, Select, Space } from 'antd';
import { useState } from 'react';

import { api, ask, sentenceOf, type Schemas } from '../../api/client';
import { UnderName } from '../../app/UnderName';
import './RuleSets.css';

export type Reused = Schemas['Reused'];

type Props = { reused: Reused; onTake: (reused: Reused) => void };

export function RuleSets({ reused, onTake }: Props) {
  const queries = useQueryClient();
  const sets = useQuery({ queryKey: ['rule-sets'], queryFn: () => ask(api.GET('/api/rule-sets')) });
  const [taken, setTaken] = useState<number>();
  const [said, setSaid] = useState<{ bad: boolean; text: string }>();
  const chosen = sets.data?.find((s) => s.id === taken);
  const done = async (act: () => Promise<unknown>, text: string) => {
    try {
      await act();
      setSaid({ bad: false, text });
      await queries.invalidateQueries({ queryKey: ['rule-sets'] });
      return true;
    } catch (e) {
      setSaid({ bad: true, text: sentenceOf(e) });
      return false;
    }
  };
  const take = (id: number) => {
    const set = sets.data?.find((s) => s.id === id);
    if (!set) return;
    setTaken(id);
    onTake(set.reused);
    setSaid({ bad: false, text: `As in “${set.name}” now; change what is different here.` });
  };
  const keep = (name: string) => {
    const asked = async () => setTaken((await ask(api.POST('/api/rule-sets', { body: { name, reused } }))).id);
    return done(asked, `Kept as “${name}”.`);
  };
  return (
    <div>
      <span className="field-label">Instruments and rules as in</span>
      <Space wrap>
        <Select
          id="rule-set"
          aria-label="Instruments and rules as in"
          className="rule-set"
          placeholder="rules that were kept"
          notFoundContent="Nothing was kept yet: set the rules below, then keep them under a name."
          value={taken}
          onChange={take}
          options={sets.data?.map((s) => ({ value: s.id, label: s.own ? s.name : `${s.name}, ${s.author}` }))}
        />
        <UnderName
          id="rules"
          text="Keep these under a name"
          label="Name of these rules"
          placeholder="First year, no oscilloscope"
          name={chosen?.own ? chosen.name : ''}
          onKeep={keep}
        />
        {chosen?.own && (
          <Popconfirm
            title={`Forget “${chosen.name}”?`}
            description="Lessons that were made by it stay as they are."
            okText="Forget"
            cancelText="Keep"
            onConfirm={() => {
              setTaken(undefined);
              void done(
                () => ask(api.DELETE('/api/rule-sets/{id}', { params: { path: { id: chosen.id } } })),
                `“${chosen.name}” is forgotten.`,
              );
            }}
          >
            <Button id="forget-rules">Forget it</Button>
          </Popconfirm>
        )}
      </Space>
      <div role={said?.bad ? 'alert' : 'status'} className={said?.bad ? 'error-line' : 'quiet'}>
        {said?.text}
      </div>
    </div>
  );
}
