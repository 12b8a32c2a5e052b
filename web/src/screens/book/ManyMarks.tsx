// The same marks, or the same comment, on a line of several sheets of one assignment.
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Button, Checkbox, Input, InputNumber, Modal, Select } from 'antd';
import { useState } from 'react';

import { api, ask, type Schemas } from '../../api/client';
import { isWaiting } from '../../app/Waiting';
import './ManyMarks.css';

type Book = Schemas['Book'];

export function ManyMarks({ id, book }: { id: number; book: Book }) {
  const queries = useQueryClient();
  const [open, setOpen] = useState(false);
  const [column, setColumn] = useState(0);
  const [left, setLeft] = useState<number[]>([]);
  const [criterion, setCriterion] = useState<string>();
  const [marks, setMarks] = useState<number | null>(null);
  const [reason, setReason] = useState('');
  const marked = book.rows.flatMap((row) => {
    const cell = row.cells[column];
    return cell?.state === 'marked' ? [{ attempt: cell.attempt, display: row.display, says: cell.says }] : [];
  });
  const first = marked[0]?.attempt;
  // Its lines are those of any of its sheets.
  const sheet = useQuery({
    queryKey: ['sheet', first],
    queryFn: () => ask(api.GET('/api/attempts/{id}/sheet', { params: { path: { id: first ?? 0 } } })),
    enabled: open && first !== undefined,
  });
  const lines = sheet.data && !isWaiting(sheet.data) ? sheet.data.lines : [];
  const line = lines.find((l) => l.criterion === criterion);
  const attempts = marked.map((m) => m.attempt).filter((a) => !left.includes(a));
  const give = useMutation({
    mutationFn: () =>
      ask(
        api.POST('/api/marks', {
          body: { attempts, given: { criterion: criterion ?? '', marks, reason } },
        }),
      ),
    onSuccess: async () => {
      await queries.invalidateQueries({ queryKey: ['book', id] });
      await queries.invalidateQueries({ queryKey: ['sheet'] });
      setOpen(false);
      setReason('');
      setMarks(null);
    },
  });
  return (
    <>
      <Button id="many-marks" className="no-print" onClick={() => setOpen(true)}>
        Marks for several
      </Button>
      <Modal
        title="The same marks for several"
        open={open}
        onCancel={() => setOpen(false)}
        okText={attempts.length === 1 ? 'Give to 1 sheet' : `Give to ${attempts.length} sheets`}
        okButtonProps={{
          id: 'give-many',
          disabled: attempts.length === 0 || !line || reason.trim() === '',
        }}
        onOk={() => give.mutate()}
        confirmLoading={give.isPending}
        destroyOnHidden
      >
        <div className="stack many-marks">
          <label>
            <span className="field-label">Assignment</span>
            <Select
              id="many-column"
              aria-label="Assignment"
              value={column}
              onChange={(n: number) => {
                setColumn(n);
                setLeft([]);
              }}
              options={book.columns.map((c, n) => ({ value: n, label: c.title }))}
            />
          </label>
          <fieldset>
            <legend className="field-label">Sheets</legend>
            {marked.length === 0 && <p className="quiet close">Nobody’s work of this is marked yet.</p>}
            {marked.map((m) => (
              <div key={m.attempt}>
                <Checkbox
                  checked={!left.includes(m.attempt)}
                  onChange={(e) =>
                    setLeft(e.target.checked ? left.filter((a) => a !== m.attempt) : [...left, m.attempt])
                  }
                >
                  {m.display} <span className="mono quiet">{m.says}</span>
                </Checkbox>
              </div>
            ))}
          </fieldset>
          <label>
            <span className="field-label">Line</span>
            <Select
              id="many-line"
              aria-label="Line"
              value={criterion}
              placeholder="choose a line"
              onChange={setCriterion}
              options={lines.map((l) => ({ value: l.criterion, label: `${l.title}, of ${l.out_of.toFixed(1)}` }))}
            />
          </label>
          <label>
            <span className="field-label">Marks (leave empty for a comment alone)</span>
            <InputNumber id="many-value" min={0} max={line?.out_of} step={0.5} value={marks} onChange={setMarks} />
          </label>
          <label>
            <span className="field-label">Reason, for the students</span>
            <Input.TextArea id="many-reason" rows={3} value={reason} onChange={(e) => setReason(e.target.value)} />
          </label>
          {(give.error ?? sheet.error) && <p className="error-line">{(give.error ?? sheet.error)?.message}</p>}
        </div>
      </Modal>
    </>
  );
}
