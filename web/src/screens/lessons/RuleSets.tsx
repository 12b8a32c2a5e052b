// Rules that were kept under a name, to be used for another lesson.
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Button, Input, Popconfirm, Select, Space, type InputRef } from 'antd';
import { useEffect, useRef, useState } from 'react';

import { api, ask, sentenceOf, type Schemas } from '../../api/client';
import './RuleSets.css';

export type Reused = Schemas['Reused'];

type Props = { reused: Reused; onTake: (reused: Reused) => void };

export function RuleSets({ reused, onTake }: Props) {
  const queries = useQueryClient();
  const sets = useQuery({ queryKey: ['rule-sets'], queryFn: () => ask(api.GET('/api/rule-sets')) });
  const [taken, setTaken] = useState<number>();
  const [name, setName] = useState<string>();
  const [said, setSaid] = useState<{ bad: boolean; text: string }>();
  const field = useRef<InputRef>(null);
  const naming = name !== undefined;
  // The button that was pressed is gone: whoever works by keyboard goes on in the field that took its place.
  useEffect(() => {
    if (naming) field.current?.focus();
  }, [naming]);
  const chosen = sets.data?.find((s) => s.id === taken);
  const done = async (act: () => Promise<unknown>, text: string) => {
    try {
      await act();
      setSaid({ bad: false, text });
      setName(undefined);
      await queries.invalidateQueries({ queryKey: ['rule-sets'] });
    } catch (e) {
      setSaid({ bad: true, text: sentenceOf(e) });
    }
  };
  const take = (id: number) => {
    const set = sets.data?.find((s) => s.id === id);
    if (!set) return;
    setTaken(id);
    onTake(set.reused);
    setSaid({ bad: false, text: `As in “${set.name}” now; change what is different here.` });
  };
  const keep = () => {
    const as = name?.trim();
    if (!as) return;
    const asked = async () => setTaken((await ask(api.POST('/api/rule-sets', { body: { name: as, reused } }))).id);
    void done(asked, `Kept as “${as}”.`);
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
        {!naming ? (
          <Button id="keep-rules" onClick={() => setName(chosen?.own ? chosen.name : '')}>
            Keep these under a name
          </Button>
        ) : (
          <Space.Compact>
            <Input
              ref={field}
              id="rules-name"
              aria-label="Name of these rules"
              placeholder="First year, no oscilloscope"
              maxLength={60}
              value={name}
              onChange={(e) => setName(e.target.value)}
              onPressEnter={keep}
            />
            <Button id="keep-rules-now" type="primary" disabled={name.trim() === ''} onClick={keep}>
              Keep
            </Button>
            <Button onClick={() => setName(undefined)}>Not now</Button>
          </Space.Compact>
        )}
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
