// The instructor's own marks for a line, or a comment on it.
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Button, Input, InputNumber, Modal } from 'antd';
import { useState } from 'react';

import { api, ask, type MarkLine } from '../../api/client';
import './GiveMarks.css';

export function GiveMarks({ id, line }: { id: number; line: MarkLine }) {
  const queries = useQueryClient();
  const [open, setOpen] = useState(false);
  const [marks, setMarks] = useState<number | null>(line.given?.marks ?? null);
  const [reason, setReason] = useState(line.given?.reason ?? '');
  const give = useMutation({
    mutationFn: () =>
      ask(
        api.POST('/api/attempts/{id}/marks', {
          params: { path: { id } },
          body: { criterion: line.criterion, marks, reason },
        }),
      ),
    onSuccess: async () => {
      await queries.invalidateQueries({ queryKey: ['sheet', id] });
      setOpen(false);
    },
  });
  return (
    <>
      <Button
        size="small"
        type="link"
        className="no-print"
        onClick={() => setOpen(true)}
        aria-label={`Change ${line.title}`}
      >
        change
      </Button>
      <Modal
        title={line.title}
        open={open}
        onCancel={() => setOpen(false)}
        okText="Give"
        okButtonProps={{ id: 'give-marks', disabled: reason.trim() === '' }}
        onOk={() => give.mutate()}
        confirmLoading={give.isPending}
        destroyOnHidden
      >
        <p>
          Computed: {line.marks.toFixed(1)} of {line.out_of.toFixed(1)}. What you give stands beside it.
        </p>
        <label>
          <span className="field-label">Marks (leave empty for a comment alone)</span>
          <InputNumber id="given-marks" min={0} max={line.out_of} step={0.5} value={marks} onChange={setMarks} />
        </label>
        <label>
          <span className="field-label close">Reason, for the student</span>
          <Input.TextArea id="given-reason" rows={3} value={reason} onChange={(e) => setReason(e.target.value)} />
        </label>
        {give.error && <p className="error-line">{give.error.message}</p>}
      </Modal>
    </>
  );
}
