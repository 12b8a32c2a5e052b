// A class at work: who needs help now. The fault is not named here, so that the page may stand on the wall.
import { Button, Input, Popconfirm, Select } from 'antd';
import { useEffect, useState, type FormEvent } from 'react';
import { Link, useParams } from 'react-router';

import { api, ask, type Schemas } from '../../api/client';
import { Private } from '../../app/projector';
import { Shell } from '../../app/Shell';
import { useEvents } from '../../app/useEvents';
import { useChange } from '../classes/useClasses';
import { Allow } from './Allow';
import { AskClass, VoteBoard } from './AskClass';
import { AsRowsOrSeats, Seats } from './Seats';
import './Live.css';

type View = Schemas['LiveView'];
type Bench = Schemas['LiveBench'];

/** Seconds since 1970, every few seconds anew. */
function useNow(everyMs: number): number {
  const [now, setNow] = useState(() => Date.now() / 1000);
  useEffect(() => {
    const timer = setInterval(() => setNow(Date.now() / 1000), everyMs);
    return () => clearInterval(timer);
  }, [everyMs]);
  return now;
}

const minutes = (from: number | null | undefined, now: number) =>
  typeof from === 'number' ? Math.max(0, Math.floor((now - from) / 60)) : undefined;

/** Who has done something dangerous comes first, then who has learnt nothing for longest; who is done comes last. */
function needsHelp(a: Bench, b: Bench): number {
  const done = Number(a.handed_in) - Number(b.handed_in);
  const danger = b.dangers.length - a.dangers.length;
  const begun = Number(b.steps > 0) - Number(a.steps > 0);
  return done || danger || begun || (a.gained_at ?? 0) - (b.gained_at ?? 0);
}

const SORTS = [
  { value: 'help', label: 'who needs help first' },
  { value: 'name', label: 'by name' },
];

export default function Live() {
  const id = Number(useParams().id);
  const { latest, heard } = useEvents<View>(`/api/assignments/${id}/watch`);
  const now = useNow(5000);
  const [sort, setSort] = useState('help');
  const [seats, setSeats] = useState(false);
  const { change, error } = useChange();
  const path = { params: { path: { id } } };
  const benches = [...(latest?.benches ?? [])];
  if (sort === 'help') benches.sort(needsHelp);
  const pause = () =>
    change(() =>
      ask(
        latest?.paused ? api.DELETE('/api/assignments/{id}/pause', path) : api.PUT('/api/assignments/{id}/pause', path),
      ),
    );
  return (
    <Shell crumbs={[{ text: 'Classes', to: '/classes' }, { text: latest?.class ?? '…' }, { text: 'Live' }]}>
      <main className="page live" tabIndex={0}>
        <div className="row">
          <h1>{latest?.title ?? '…'}</h1>
          <span className={heard ? 'quiet' : 'bad'} role="status">
            {heard ? 'as it happens' : 'the connection is lost; it comes back by itself'}
          </span>
        </div>
        <div className="row">
          <Button id="eyes-up" type={latest?.paused ? 'primary' : 'default'} onClick={() => void pause()}>
            {latest?.paused ? 'Let them go on' : 'Eyes up: all benches stand still'}
          </Button>
          {latest?.closed ? <span className="quiet">ended</span> : latest?.teaches && <End assignment={id} />}
          <SayTo assignment={id} label="Say to all benches" />
          <AskClass assignment={id} />
          <AsRowsOrSeats seats={seats} onChange={setSeats} />
          <Select aria-label="Order" className="at-the-right" value={sort} options={SORTS} onChange={setSort} />
        </div>
        <div role="alert" className="error-line">
          {error}
        </div>
        {latest?.vote && <VoteBoard assignment={id} vote={latest.vote} of={latest.benches.length} />}
        {seats && latest ? (
          <Seats view={latest} now={now} />
        ) : (
          <table className="sheet-table">
            <thead>
              <tr>
                <th>Student</th>
                <th>Now</th>
                <th className="number">Steps</th>
                <th className="number">At the machine</th>
                <th className="number">Places left</th>
                <th className="number">Learnt nothing for</th>
                <th>To see</th>
                <th />
              </tr>
            </thead>
            <tbody>
              {benches.map((b) => (
                <Row
                  key={b.student}
                  bench={b}
                  seat={1 + (latest?.benches.indexOf(b) ?? 0)}
                  assignment={id}
                  now={now}
                  teaches={latest?.teaches ?? false}
                />
              ))}
            </tbody>
          </table>
        )}
        {latest?.benches.length === 0 && <p className="quiet">It was given to nobody.</p>}
      </main>
    </Shell>
  );
}

/** Ends the work now. */
function End({ assignment }: { assignment: number }) {
  const { change, error } = useChange();
  const path = { params: { path: { id: assignment } } };
  return (
    <Popconfirm
      title="End it now?"
      description="Nothing more is done at its benches; who has not handed in hands in what they have. Its terms, under Classes, open it again."
      okText="End it"
      cancelText="Not yet"
      onConfirm={() => void change(() => ask(api.POST('/api/assignments/{id}/end', path)))}
    >
      <Button id="end-assignment">End it</Button>
      {error && <span className="error-line">{error}</span>}
    </Popconfirm>
  );
}

type RowProps = { bench: Bench; seat: number; assignment: number; now: number; teaches: boolean };

function Row({ bench: b, seat, assignment, now, teaches }: RowProps) {
  const stuck = b.handed_in ? undefined : minutes(b.gained_at, now);
  const stands = b.excused ? 'excused' : b.handed_in ? 'handed in' : b.steps === 0 ? 'not begun' : b.last;
  return (
    <tr data-bench={b.display} className={b.dangers.length > 0 ? 'danger' : undefined}>
      <th scope="row">
        <Private instead={`Bench ${seat}`}>{b.display}</Private>
        {b.no > 1 && <span className="quiet"> attempt {b.no}</span>}
        {b.partner && (
          <span className="quiet">
            {' '}
            with <Private instead="another">{b.partner}</Private>
          </span>
        )}
      </th>
      <td>{stands}</td>
      <td className="number">{b.steps}</td>
      <td className="number">{b.steps > 0 ? `${b.minutes.toFixed(0)} min` : ''}</td>
      <td className="number">
        {typeof b.left === 'number' ? `${b.left} of ${b.of}` : b.steps > 0 && typeof b.of === 'number' ? 'named' : ''}
      </td>
      <td className="number">{stuck === undefined ? '' : `${stuck} min`}</td>
      <td>
        {b.dangers.length > 0 && (
          <span className="bad" title={b.dangers.join('\n')}>
            {b.dangers.at(-1)}{' '}
          </span>
        )}
        {b.slips.length > 0 && (
          <span className="quiet" title={b.slips.join('\n')}>
            {b.slips.length} {b.slips.length === 1 ? 'slip' : 'slips'}{' '}
          </span>
        )}
        {b.hints > 0 && (
          <span className="quiet">
            {b.hints} {b.hints === 1 ? 'hint' : 'hints'}
          </span>
        )}
      </td>
      <td>
        {b.steps > 0 && (
          <Link to={`/attempts/${b.attempt}`} aria-label={`Look over: ${b.display}`}>
            Look over
          </Link>
        )}
        <SayTo assignment={assignment} student={b.student} label={`Say to ${b.display}`} small />
        {teaches && <Allow assignment={assignment} bench={b} />}
      </td>
    </tr>
  );
}

function SayTo(props: { assignment: number; student?: number; label: string; small?: boolean }) {
  const { assignment, student, label, small } = props;
  const [open, setOpen] = useState(false);
  const [text, setText] = useState('');
  const { change, error } = useChange();
  const say = async (e?: FormEvent) => {
    e?.preventDefault();
    const path = { params: { path: { id: assignment } } };
    const said = await change(() => ask(api.POST('/api/assignments/{id}/words', { ...path, body: { text, student } })));
    if (!said) return;
    setText('');
    setOpen(false);
  };
  return (
    <Popconfirm
      title={label}
      icon={null}
      open={open}
      onOpenChange={(next) => setOpen(next)}
      okText="Say it"
      okButtonProps={{ disabled: text.trim() === '' }}
      cancelText="Leave it"
      onConfirm={() => void say()}
      description={
        <form onSubmit={(e) => void say(e)}>
          <Input aria-label={label} value={text} maxLength={300} onChange={(e) => setText(e.target.value)} />
          <div role="alert" className="error-line">
            {error}
          </div>
        </form>
      }
    >
      {small ? (
        <Button type="link" size="small" aria-label={`Say: ${label.replace('Say to ', '')}`}>
          Say
        </Button>
      ) : (
        <Button id="say-to-all">Say to all benches</Button>
      )}
    </Popconfirm>
  );
}
