// A second look at a line of a sheet: the student asks once, the instructor answers once; both stay on the sheet.
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Button, Input, InputNumber, Modal } from 'antd';
import { useState } from 'react';

import { api, ask, type MarkLine, type Schemas } from '../../api/client';

export type Look = Schemas['SecondLookView'];

/** A line, or safety, which has no marks of its own to give. */
type Asked = Pick<MarkLine, 'criterion' | 'title'>;

/** What was asked of an attempt's lines, and answered. */
export function useLooks(id: number, enabled: boolean): Look[] {
  const looks = useQuery({
    queryKey: ['second-looks', id],
    queryFn: () => ask(api.GET('/api/attempts/{id}/second-looks', { params: { path: { id } } })),
    enabled,
  });
  return looks.data ?? [];
}

/** Asks, or answers, and shows what came of it. */
function useSend(id: number, send: () => Promise<unknown>, done: () => void) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: send,
    onSuccess: async () => {
      const keys = [
        ['second-looks', id],
        ['sheet', id],
        ['second-looks', 'open'],
      ];
      await Promise.all(keys.map((queryKey) => queries.invalidateQueries({ queryKey })));
      done();
    },
  });
}

/** The button with which a student asks. */
export function AskLook({ id, line }: { id: number; line: Asked }) {
  const [open, setOpen] = useState(false);
  const [asked, setAsked] = useState('');
  const send = useSend(
    id,
    () =>
      ask(
        api.POST('/api/attempts/{id}/second-looks', {
          params: { path: { id } },
          body: { criterion: line.criterion, asked },
        }),
      ),
    () => setOpen(false),
  );
  return (
    <>
      <Button
        size="small"
        type="link"
        className="no-print"
        onClick={() => setOpen(true)}
        aria-label={`Ask for a second look at ${line.title}`}
      >
        second look
      </Button>
      <Modal
        title={`${line.title}: a second look`}
        open={open}
        onCancel={() => setOpen(false)}
        okText="Ask"
        okButtonProps={{ id: 'ask-look', disabled: asked.trim() === '' }}
        onOk={() => send.mutate()}
        confirmLoading={send.isPending}
        destroyOnHidden
      >
        <label>
          <span className="field-label">
            What should your instructor look at again, and why? You can ask once for this line.
          </span>
          <Input.TextArea
            id="look-asked"
            rows={4}
            maxLength={500}
            value={asked}
            onChange={(e) => setAsked(e.target.value)}
          />
        </label>
        {send.error && <p className="error-line">{send.error.message}</p>}
      </Modal>
    </>
  );
}

/** What was asked and answered, below its line; the instructor answers here. */
export function TheLook({ id, line, look, answers }: { id: number; line?: MarkLine; look: Look; answers: boolean }) {
  return (
    <div data-look={look.criterion}>
      <i>Second look asked: {look.asked}</i>
      {look.answer ? (
        <div>
          <i>
            {look.answer.by}, {look.answer.changed ? 'changed' : 'kept'}: {look.answer.text}
          </i>
        </div>
      ) : answers ? (
        <Answer id={id} line={line} look={look} />
      ) : (
        <span className="quiet"> Not answered yet.</span>
      )}
    </div>
  );
}

function Answer({ id, line, look }: { id: number; line?: MarkLine; look: Look }) {
  const [open, setOpen] = useState(false);
  const [text, setText] = useState('');
  const [marks, setMarks] = useState<number | null>(null);
  const send = useSend(
    id,
    () =>
      ask(
        api.PUT('/api/attempts/{id}/second-looks/{criterion}', {
          params: { path: { id, criterion: look.criterion } },
          body: { text, marks },
        }),
      ),
    () => setOpen(false),
  );
  const title = line?.title ?? 'Safety';
  return (
    <>
      {' '}
      <Button
        size="small"
        className="no-print"
        onClick={() => setOpen(true)}
        aria-label={`Answer the second look at ${title}`}
      >
        Answer
      </Button>
      <Modal
        title={`${title}: a second look`}
        open={open}
        onCancel={() => setOpen(false)}
        okText={marks === null ? 'Keep the marks' : 'Change the marks'}
        okButtonProps={{ id: 'answer-look', disabled: text.trim() === '' }}
        onOk={() => send.mutate()}
        confirmLoading={send.isPending}
        destroyOnHidden
      >
        <p>{look.asked}</p>
        {line && (
          <label>
            <span className="field-label">
              Other marks, of {line.out_of.toFixed(1)} (computed {line.marks.toFixed(1)}); leave empty to keep them
            </span>
            <InputNumber id="look-marks" min={0} max={line.out_of} step={0.5} value={marks} onChange={setMarks} />
          </label>
        )}
        <label>
          <span className="field-label close">Answer, for the student. It is given once.</span>
          <Input.TextArea
            id="look-answer"
            rows={3}
            maxLength={500}
            value={text}
            onChange={(e) => setText(e.target.value)}
          />
        </label>
        {send.error && <p className="error-line">{send.error.message}</p>}
      </Modal>
    </>
  );
}
