// How a class weighs the categories of what it is given.
import { Button, InputNumber, Modal } from 'antd';
import { useState } from 'react';

import { useQueryClient } from '@tanstack/react-query';
import { api, ask, sentenceOf, type Schemas } from '../../api/client';

type Category = Schemas['CategoryWeight'];

export function Weights({ id, categories }: { id: number; categories: Category[] }) {
  const queries = useQueryClient();
  const [changed, setChanged] = useState<Category[]>();
  const [error, setError] = useState('');
  // One category weighs nothing against itself.
  if (categories.length < 2) return null;
  const save = async (to: Category[]) => {
    setError('');
    try {
      await ask(api.PUT('/api/classes/{id}/weights', { params: { path: { id } }, body: { categories: to } }));
      await queries.invalidateQueries({ queryKey: ['book', id] });
      setChanged(undefined);
    } catch (e) {
      setError(sentenceOf(e));
    }
  };
  return (
    <>
      <Button id="weights" className="no-print" onClick={() => setChanged(categories)}>
        Weights
      </Button>
      <Modal
        title="Weights of categories"
        open={changed !== undefined}
        okText="Weigh so"
        okButtonProps={{ id: 'weigh' }}
        onOk={() => changed && void save(changed.map((c) => ({ ...c, weight: c.weight ?? 1 })))}
        onCancel={() => setChanged(undefined)}
        footer={(_, { OkBtn, CancelBtn }) => (
          <>
            <Button onClick={() => void save([])}>Let every assignment count alike</Button>
            <CancelBtn />
            <OkBtn />
          </>
        )}
        destroyOnHidden
      >
        <p className="quiet close-above">A student’s mean is that of the categories’ means, each by its weight.</p>
        <div className="stack">
          {changed?.map((c, n) => (
            <label key={c.category} className="row">
              <InputNumber
                aria-label={`Weight of ${c.category || 'no category'}`}
                min={0}
                max={100}
                value={c.weight ?? 1}
                onChange={(weight) => setChanged(changed.with(n, { ...c, weight: weight ?? 0 }))}
              />
              <span>{c.category || 'no category'}</span>
            </label>
          ))}
        </div>
        <div role="alert" className="error-line">
          {error}
        </div>
      </Modal>
    </>
  );
}
