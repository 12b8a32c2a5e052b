// How long work is kept, and what stays of it.
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Button, Checkbox, InputNumber, Modal } from 'antd';
import { useState } from 'react';

import { api, ask, type Schemas } from '../../api/client';

type Kept = Schemas['Kept'];

export function Retention() {
  const queries = useQueryClient();
  const [kept, setKept] = useState<Kept>();
  const now = useQuery({ queryKey: ['retention'], queryFn: () => ask(api.GET('/api/school/retention')) });
  const save = useMutation({
    mutationFn: (body: Kept) => ask(api.PUT('/api/school/retention', { body })),
    onSuccess: async () => {
      await queries.invalidateQueries({ queryKey: ['retention'] });
      setKept(undefined);
    },
  });
  return (
    <>
      <Button
        id="retention"
        disabled={!now.data}
        onClick={() => {
          save.reset();
          setKept(now.data);
        }}
      >
        How long work is kept
      </Button>
      <Modal
        title="How long work is kept"
        open={kept !== undefined}
        onCancel={() => setKept(undefined)}
        okText="Save"
        okButtonProps={{ id: 'save-retention' }}
        onOk={() => kept && save.mutate(kept)}
        confirmLoading={save.isPending}
        destroyOnHidden
      >
        {kept && (
          <div className="stack">
            <label className="row">
              <InputNumber
                id="kept-months"
                min={1}
                max={240}
                precision={0}
                value={kept.months}
                placeholder="all"
                onChange={(months) => setKept({ ...kept, months })}
              />
              <span>months, from when it was last gone on with; empty keeps it without end</span>
            </label>
            <Checkbox
              id="keeps-figures"
              checked={kept.keeps_figures}
              onChange={(e) => setKept({ ...kept, keeps_figures: e.target.checked })}
            >
              Marks of erased work go on counting in the means of their class, without a name
            </Checkbox>
            <p className="quiet close">
              What is older is erased for good within a day, with every reading and sheet. Backups keep it until they
              are thrown away.
            </p>
            {save.error && <p className="error-line">{save.error.message}</p>}
          </div>
        )}
      </Modal>
    </>
  );
}
