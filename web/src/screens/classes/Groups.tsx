// The groups of a class: some of its students under a name, to be chosen at once.
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Button, Popconfirm, Space } from 'antd';
import { useState } from 'react';

import { api, ask, sentenceOf } from '../../api/client';
import { UnderName } from '../../app/UnderName';

type Props = { klass: number; chosen: number[]; onChoose: (students: number[]) => void };

/** The same people, in whatever order. */
const same = (a: number[], b: number[]) => a.length === b.length && a.every((id) => b.includes(id));

export function Groups({ klass, chosen, onChoose }: Props) {
  const queries = useQueryClient();
  const [error, setError] = useState('');
  const key = ['groups', klass];
  const path = { params: { path: { id: klass } } };
  const groups = useQuery({ queryKey: key, queryFn: () => ask(api.GET('/api/classes/{id}/groups', path)) });
  const group = groups.data?.find((g) => same(g.students, chosen));
  const done = async (act: () => Promise<unknown>) => {
    setError('');
    try {
      await act();
    } catch (e) {
      setError(sentenceOf(e));
      return false;
    }
    await queries.invalidateQueries({ queryKey: key });
    return true;
  };
  const keep = (name: string) =>
    done(() => ask(api.POST('/api/classes/{id}/groups', { ...path, body: { name, students: chosen } })));
  return (
    <div>
      <Space wrap role="group" aria-label="Groups">
        {groups.data?.map((g) => (
          <Button
            key={g.id}
            aria-pressed={g.id === group?.id}
            type={g.id === group?.id ? 'primary' : 'default'}
            onClick={() => onChoose(g.students)}
          >
            {g.name}
          </Button>
        ))}
        <UnderName
          id="group"
          text="Keep those chosen as a group"
          label="Name of the group"
          placeholder="Tuesday bench group"
          name={group?.name ?? ''}
          disabled={chosen.length === 0}
          onKeep={keep}
        />
        {group && (
          <Popconfirm
            title={`Forget “${group.name}”?`}
            description="What it was given stays given."
            okText="Forget"
            cancelText="Keep"
            onConfirm={() =>
              void done(() =>
                ask(
                  api.DELETE('/api/classes/{id}/groups/{group}', { params: { path: { id: klass, group: group.id } } }),
                ),
              )
            }
          >
            <Button id="forget-group">Forget the group</Button>
          </Popconfirm>
        )}
      </Space>
      <div role="alert" className="error-line">
        {error}
      </div>
    </div>
  );
}
