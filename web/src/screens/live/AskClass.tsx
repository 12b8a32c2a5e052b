// Asking the class to predict a reading before it is shown, and what they say.
import { useQuery } from '@tanstack/react-query';
import { Button, Checkbox, Modal, Select } from 'antd';
import { useState } from 'react';

import { api, ask, type MeterFunction, type Schemas } from '../../api/client';
import { useInstrument } from '../../app/instruments';
import { useChange } from '../classes/useClasses';

type Vote = Schemas['VoteView'];
type NewVote = Schemas['NewVote'];

export function AskClass({ assignment }: { assignment: number }) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button id="ask-class" onClick={() => setOpen(true)}>
        Ask the class
      </Button>
      {open && <Asking assignment={assignment} onClose={() => setOpen(false)} />}
    </>
  );
}

function Asking({ assignment, onClose }: { assignment: number; onClose: () => void }) {
  const path = { params: { path: { id: assignment } } };
  const askable = useQuery({
    queryKey: ['askable', assignment],
    queryFn: () => ask(api.GET('/api/assignments/{id}/askable', path)),
    staleTime: 0,
  });
  const instrument = useInstrument();
  const { change, error } = useChange();
  const [said, setSaid] = useState<Partial<NewVote>>({});
  const of = askable.data;
  const question = { state: of?.states.at(-1) ?? '', function: of?.functions[0], black: of?.negative, ...said };
  const set = (part: Partial<NewVote>) => setSaid({ ...said, ...part });
  const send = async () => {
    const body = { ...question, red: question.red ?? '' } as NewVote;
    if (await change(() => ask(api.POST('/api/assignments/{id}/vote', { ...path, body })))) onClose();
  };
  const choice = (id: string, label: string, value: string | undefined, all: string[], on: (v: string) => void) => (
    <label>
      <span className="field-label">{label}</span>
      <Select
        id={id}
        aria-label={label}
        className="whole-width"
        showSearch
        value={value}
        options={all.map((v) => ({ value: v, label: v }))}
        onChange={on}
      />
    </label>
  );
  return (
    <Modal
      title="Ask the class to predict a reading"
      open
      okText="Ask"
      okButtonProps={{ id: 'ask-it', disabled: !question.red }}
      onOk={() => void send()}
      onCancel={onClose}
    >
      {askable.error && <p className="error-line">{askable.error.message}</p>}
      {of && (
        <div className="stack">
          {choice('vote-state', 'State', question.state, of.states, (state) => set({ state }))}
          <label>
            <span className="field-label">Instrument</span>
            <Select
              id="vote-function"
              aria-label="Instrument"
              className="whole-width"
              value={question.function}
              options={of.functions.map((f) => ({ value: f, label: instrument(f).label }))}
              onChange={(f: MeterFunction) => set({ function: f })}
            />
          </label>
          {choice('vote-red', 'Red lead', question.red, of.points, (red) => set({ red }))}
          {choice('vote-black', 'Black lead', question.black ?? undefined, of.points, (black) => set({ black }))}
          <Checkbox
            checked={question.faulted ?? false}
            disabled={!of.faulted}
            onChange={(e) => set({ faulted: e.target.checked })}
          >
            On the machine with its fault{!of.faulted && ': once everybody has handed in'}
          </Checkbox>
          <div role="alert" className="error-line">
            {error}
          </div>
        </div>
      )}
    </Modal>
  );
}

/** What the class says, and the reading once it is shown. */
export function VoteBoard({ assignment, vote, of }: { assignment: number; vote: Vote; of: number }) {
  const path = { params: { path: { id: assignment } } };
  const { change, error } = useChange();
  return (
    <section aria-label="Vote" className="vote" id="vote">
      <div className="row">
        <h2 className="grow">{vote.text}</h2>
        {!vote.shown && (
          <Button
            type="primary"
            id="show-vote"
            onClick={() => void change(() => ask(api.PUT('/api/assignments/{id}/vote/shown', path)))}
          >
            Show the reading
          </Button>
        )}
        <Button id="end-vote" onClick={() => void change(() => ask(api.DELETE('/api/assignments/{id}/vote', path)))}>
          {vote.shown ? 'Done' : 'Ask no more'}
        </Button>
      </div>
      <p role="status">
        {vote.answered} of {of} have answered.
        {vote.shown && (
          <>
            {' '}
            The meter shows <b className="mono">{vote.shown}</b>
          </>
        )}
      </p>
      <ul>
        {vote.answers.map((a) => (
          <li key={a.says} className={a.right === true ? 'good' : undefined}>
            <span className="mono says">{a.says}</span>
            <svg viewBox="0 0 100 10" preserveAspectRatio="none" aria-hidden>
              <rect width={(100 * a.count) / Math.max(1, of)} height="10" />
            </svg>
            <span className="mono">{a.count}</span>
            {typeof a.right === 'boolean' && <span>{a.right ? 'right' : 'not so'}</span>}
          </li>
        ))}
      </ul>
      <div role="alert" className="error-line">
        {error}
      </div>
    </section>
  );
}
