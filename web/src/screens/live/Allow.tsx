// What is otherwise for one student: more time, an excuse, another attempt.
import { Button, Checkbox, InputNumber, Modal } from 'antd';
import { useState } from 'react';

import { api, ask, type Schemas } from '../../api/client';
import { useChange } from '../classes/useClasses';

type Props = { assignment: number; bench: Schemas['LiveBench'] };

export function Allow({ assignment, bench }: Props) {
  const [open, setOpen] = useState(false);
  const [extra, setExtra] = useState(0);
  const [excused, setExcused] = useState(false);
  const { change, error } = useChange();
  const begin = () => {
    setExtra(bench.extra_minutes);
    setExcused(bench.excused);
    setOpen(true);
  };
  const save = async () => {
    const path = { params: { path: { id: assignment, person: bench.student } } };
    const body = { extra_minutes: extra, excused };
    if (await change(() => ask(api.PUT('/api/assignments/{id}/students/{person}', { ...path, body })))) setOpen(false);
  };
  const again = async () => {
    const path = { params: { path: { id: assignment } } };
    const body = { student: bench.student };
    if (await change(() => ask(api.POST('/api/assignments/{id}/again', { ...path, body })))) setOpen(false);
  };
  const takeUp = async () => {
    const path = { params: { path: { id: bench.attempt } } };
    if (await change(() => ask(api.POST('/api/attempts/{id}/take-up', path)))) setOpen(false);
  };
  const part = async () => {
    const path = { params: { path: { id: bench.attempt } } };
    if (await change(() => ask(api.DELETE('/api/attempts/{id}/partner', path)))) setOpen(false);
  };
  return (
    <>
      <Button type="link" size="small" aria-label={`Allow: ${bench.display}`} onClick={begin}>
        Allow
      </Button>
      <Modal title={bench.display} open={open} okText="Save" onOk={() => void save()} onCancel={() => setOpen(false)}>
        <div className="stack">
          <label>
            <span className="field-label">Minutes more than the lesson’s time</span>
            <InputNumber min={0} max={600} value={extra} onChange={(v) => setExtra(v ?? 0)} />
          </label>
          <Checkbox checked={excused} onChange={(e) => setExcused(e.target.checked)}>
            Excused: it is not asked of them
          </Checkbox>
          <div>
            <Button onClick={() => void again()}>Give another attempt</Button>{' '}
            {bench.handed_in && <Button onClick={() => void takeUp()}>Let this one go on</Button>}{' '}
            {bench.partner && <Button onClick={() => void part()}>Let each go on alone</Button>}
          </div>
          {bench.handed_in && (
            <p className="quiet close">
              One that goes on stands where it was handed in; its sheet no longer counts, and may have told the fault.
            </p>
          )}
          <div role="alert" className="error-line">
            {error}
          </div>
        </div>
      </Modal>
    </>
  );
}
