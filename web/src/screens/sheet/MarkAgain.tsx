// Marking again with the engine of today: old and new side by side, line by line; what stands changes only
// when it is told to.
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Button, Modal } from 'antd';
import { useState } from 'react';

import { api, ask, type Schemas } from '../../api/client';
import { isWaiting, stopMarking, WaitingFor } from '../../app/Waiting';

type Kept = Schemas['KeptSheet'];

export function MarkAgain({ id }: { id: number }) {
  const [open, setOpen] = useState(false);
  const [done, setDone] = useState(false);
  const queries = useQueryClient();
  const params = { path: { id } };
  const kept = useQuery({
    queryKey: ['sheets', id],
    queryFn: () => ask(api.GET('/api/attempts/{id}/sheets', { params })),
    enabled: open,
    staleTime: 0,
  });
  const again = useMutation({ mutationFn: () => ask(api.POST('/api/attempts/{id}/sheets', { params })) });
  const stand = useMutation({
    mutationFn: (sheet: number) =>
      ask(api.PUT('/api/attempts/{id}/sheets/{sheet}/stands', { params: { path: { id, sheet } } })),
    onSuccess: async () => {
      await Promise.all(
        ['sheet', 'sheets', 'debrief'].map((key) => queries.invalidateQueries({ queryKey: [key, id] })),
      );
      close();
    },
  });
  const begin = () => {
    setDone(false);
    setOpen(true);
    again.mutate();
  };
  const close = () => {
    setOpen(false);
    again.reset();
  };
  const waiting = isWaiting(again.data) ? again.data : undefined;
  const old = kept.data?.find((k) => k.stands);
  const made = kept.data?.at(-1);
  const error = again.error ?? kept.error ?? stand.error;
  return (
    <>
      <Button size="small" type="link" className="inline-link" id="mark-again" onClick={begin}>
        Mark again
      </Button>
      <Modal
        title="Marked again"
        open={open}
        onCancel={close}
        width={720}
        okText="Let the new marks stand"
        cancelText="Leave it as it is"
        okButtonProps={{ id: 'let-stand', disabled: !done || !made || made.stands }}
        confirmLoading={stand.isPending}
        onOk={() => made && stand.mutate(made.id)}
        destroyOnHidden
      >
        {waiting && !done && (
          <WaitingFor
            key={again.submittedAt}
            what="Marking."
            events={`/api/attempts/${id}/waiting`}
            first={waiting}
            onAgain={() => again.mutate()}
            onStop={() => void stopMarking(id)}
            onDone={() => {
              setDone(true);
              void kept.refetch();
            }}
          />
        )}
        {error && <p className="error-line">{error.message}</p>}
        {done && old && made && <Beside old={old} made={made} />}
      </Modal>
    </>
  );
}

const day = (seconds: number) => new Date(seconds * 1000).toISOString().slice(0, 10);

/** Two sheets of one attempt, line by line. */
export function Beside({ old, made }: { old: Kept; made: Kept }) {
  const marks = (of: Kept, criterion: string) => of.sheet.lines.find((l) => l.criterion === criterion)?.marks;
  const titles = new Map([...old.sheet.lines, ...made.sheet.lines].map((l) => [l.criterion, l.title]));
  const rows = [...titles].map(([criterion, title]) => ({
    title,
    was: marks(old, criterion)?.toFixed(1) ?? '–',
    is: marks(made, criterion)?.toFixed(1) ?? '–',
  }));
  rows.push({ title: 'Total', was: old.sheet.computed.toFixed(1), is: made.sheet.computed.toFixed(1) });
  const same = rows.every((r) => r.was === r.is);
  return (
    <>
      <p className="quiet">
        {same ? 'No line has changed.' : 'Lines in red have changed.'} Marks that you gave yourself stay as they are.
      </p>
      <table className="sheet-table">
        <thead>
          <tr>
            <th>Criterion</th>
            <th className="number">Standing, of {day(old.made_at)}</th>
            <th className="number">New, of {day(made.made_at)}</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((r) => (
            <tr key={r.title}>
              <td>{r.title}</td>
              <td className="number">{r.was}</td>
              <td className={`number ${r.was === r.is ? '' : 'bad'}`}>{r.is}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
