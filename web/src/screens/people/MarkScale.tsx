// How the school says marks: rounding, and grades where it gives them.
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Button, Input, InputNumber, Modal, Radio } from 'antd';
import { useState } from 'react';

import { api, ask, type Schemas } from '../../api/client';
import './MarkScale.css';

type Scale = Schemas['Scale'];

export function MarkScale() {
  const queries = useQueryClient();
  const [scale, setScale] = useState<Scale>();
  const kept = useQuery({ queryKey: ['scale'], queryFn: () => ask(api.GET('/api/school/scale')) });
  const save = useMutation({
    mutationFn: (body: Scale) => ask(api.PUT('/api/school/scale', { body })),
    onSuccess: async () => {
      await Promise.all(['scale', 'book', 'sheet'].map((key) => queries.invalidateQueries({ queryKey: [key] })));
      setScale(undefined);
    },
  });
  const change = (n: number, part: Partial<Scale['grades'][number]>) =>
    scale && setScale({ ...scale, grades: scale.grades.map((g, m) => (m === n ? { ...g, ...part } : g)) });
  return (
    <>
      <Button
        id="scale"
        disabled={!kept.data}
        onClick={() => {
          save.reset();
          setScale(kept.data?.scale);
        }}
      >
        Scale of marks
      </Button>
      <Modal
        title="Scale of marks"
        open={scale !== undefined}
        onCancel={() => setScale(undefined)}
        okText="Save"
        okButtonProps={{ id: 'save-scale' }}
        onOk={() => scale && save.mutate(scale)}
        confirmLoading={save.isPending}
        destroyOnHidden
      >
        {scale && (
          <div className="stack">
            <p className="close">Marks are computed of 100. This is how sheets and books say them; no mark changes.</p>
            <div>
              <span className="field-label" id="rounding-label">
                Rounded to
              </span>
              <Radio.Group
                aria-labelledby="rounding-label"
                value={scale.rounding}
                onChange={(e) => setScale({ ...scale, rounding: e.target.value as Scale['rounding'] })}
                options={[
                  { value: 'tenth', label: 'tenths' },
                  { value: 'half', label: 'halves' },
                  { value: 'whole', label: 'whole marks' },
                ]}
              />
            </div>
            <div className="row">
              {kept.data?.usual.map(({ name, grades }) => (
                <Button key={name} size="small" onClick={() => setScale({ ...scale, grades })}>
                  {name}
                </Button>
              ))}
            </div>
            {scale.grades.map((grade, n) => (
              <div key={n} className="row grade-row">
                <Input
                  aria-label={`Grade ${n + 1}`}
                  className="grade-name"
                  value={grade.name}
                  maxLength={20}
                  onChange={(e) => change(n, { name: e.target.value })}
                />
                <span>from</span>
                <InputNumber
                  aria-label={`Marks from which on grade ${n + 1} is given`}
                  min={0}
                  max={100}
                  value={grade.from}
                  onChange={(from) => change(n, { from: from ?? 0 })}
                />
                <Button
                  type="link"
                  size="small"
                  aria-label={`Remove grade ${n + 1}`}
                  onClick={() => setScale({ ...scale, grades: scale.grades.filter((_, m) => m !== n) })}
                >
                  remove
                </Button>
              </div>
            ))}
            <Button
              size="small"
              className="at-the-left"
              onClick={() => setScale({ ...scale, grades: [...scale.grades, { name: '', from: 0 }] })}
            >
              Add a grade
            </Button>
            {save.error && <p className="error-line">{save.error.message}</p>}
          </div>
        )}
      </Modal>
    </>
  );
}
