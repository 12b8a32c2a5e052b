// Predicting on paper: readings of a machine that nobody measures, each with what it will be and why.
import { Button } from 'antd';
import { useEffect, useMemo, useRef, useState } from 'react';
import { Link } from 'react-router';

import type { AttemptView, Schemas } from '../../api/client';
import { useInstrument } from '../../app/instruments';
import { Shell } from '../../app/Shell';
import { useStable } from '../../app/useStable';
import { useChoose } from '../../diagram/chosen';
import type { PointMark } from '../../diagram/Diagram';
import { MachinePane } from './MachinePane';
import { TimeLeft } from './TimeLeft';
import type { useBench } from './useBench';
import { useHandIn } from './useHandIn';
import './Conclusion.css';
import './layout.css';
import './OnPaper.css';

type Props = {
  id: number;
  attempt: AttemptView;
  act: ReturnType<typeof useBench>['act'];
  busy: boolean;
  error: Error | null;
};

type Asked = Schemas['ToPredict'];
type Written = Schemas['PredictedAt'];

export function OnPaper({ id, attempt, act, busy, error }: Props) {
  const { bench: view, asked } = attempt;
  const [at, setAt] = useState(1);
  const [refused, setRefused] = useState<number>();
  const list = useRef<HTMLOListElement>(null);
  const facesButton = useRef<HTMLButtonElement>(null);
  const handIn = useHandIn(id, attempt, act);
  const current = asked.find((a) => a.no === at);
  const marks = useMemo(() => {
    const out: Record<string, PointMark> = {};
    if (current?.black) out[current.black] = { lead: 'black' };
    if (current) out[current.red] = { lead: 'red' };
    return out;
  }, [current]);
  // What a clamp goes around is lit, for no lead stands there.
  const { choose } = useChoose();
  const around = current && !current.black ? current.red : null;
  useEffect(() => choose(around), [choose, around]);
  const written = (no: number) => view.predicted?.find((p) => p.no === no);
  const write = async (no: number, expected: string, reason: Written['reason']) => {
    const known = written(no);
    if (expected === '' || (known && known.expected === expected && known.reason === reason)) return;
    const done = await act({ do: 'predict', no, expected, reason });
    setRefused(done ? undefined : no);
  };
  const onward = (no: number) => {
    const next = list.current?.querySelectorAll<HTMLElement>('input')[no];
    (next ?? document.getElementById('hand-in'))?.focus();
  };
  const choosePoint = useStable((point: string) => {
    const found = asked.find((a) => a.red === point && a.no !== at) ?? asked.find((a) => a.black === point);
    if (found) list.current?.querySelectorAll<HTMLElement>('input')[found.no - 1]?.focus();
  });
  const done = asked.filter((a) => written(a.no)).length;
  const marked = attempt.purpose === 'marks';
  return (
    <Shell
      crumbs={[{ text: 'Bench', to: '/attempts' }, { text: attempt.title }]}
      pills={[`${done} of ${asked.length}`]}
    >
      <main className="bench on-paper">
        <div className="left">
          <div className="order">
            <div className="words">
              <h1>{attempt.words || 'What will the meter show?'}</h1>
              <p>
                {attempt.told ? (
                  <>
                    The fault is known: <b id="told-fault">{attempt.told}</b>.{' '}
                  </>
                ) : (
                  'The machine is healthy. '
                )}
                Write down every reading before anything is measured.
                {attempt.partner && ` With ${attempt.partner}.`}
                {typeof attempt.left_s === 'number' && (
                  <>
                    {' '}
                    <TimeLeft leftS={attempt.left_s} began={view.steps > 0} />
                  </>
                )}
              </p>
              <p className="notices" id="asked-state" role="status">
                {current && `Reading ${current.no} is taken in: ${current.state}`}
              </p>
            </div>
          </div>
          <MachinePane
            attempt={attempt}
            marks={marks}
            onPlace={nothing}
            onPoint={choosePoint}
            doings={noDoings}
            facesButton={facesButton}
          />
        </div>
        <div className="right footed">
          <div className="scroll" role="region" aria-label="Predictions">
            <ol className="asked-list" ref={list}>
              {asked.map((a) => (
                <Row
                  key={a.no}
                  asked={a}
                  written={written(a.no)}
                  chosen={a.no === at}
                  closed={view.handed_in}
                  error={refused === a.no ? error?.message : undefined}
                  onChoose={() => setAt(a.no)}
                  onWrite={(expected, reason) => void write(a.no, expected, reason)}
                  onEnter={() => onward(a.no)}
                />
              ))}
            </ol>
            {error && refused === undefined && (
              <p className="error-line" role="alert">
                {error.message}
              </p>
            )}
          </div>
          <section aria-label="Conclusion" className="conclusion">
            {view.handed_in ? (
              <p>
                {marked ? 'Handed in. ' : 'Finished. '}
                <Link to={`/attempts/${id}/sheet`}>{marked ? 'Open the mark sheet' : 'See what was right'}</Link>
              </p>
            ) : (
              <div className="row">
                <Button id="hand-in" type="primary" onClick={handIn} disabled={busy}>
                  {marked ? 'Hand in' : 'Finish'}
                </Button>
                <span className="quiet" role="status" id="predicted-count">
                  {done} of {asked.length} written
                </span>
              </div>
            )}
          </section>
        </div>
      </main>
    </Shell>
  );
}

const nothing = () => undefined;
const noDoings = () => null;

type RowProps = {
  asked: Asked;
  written?: Written;
  chosen: boolean;
  closed: boolean;
  error?: string;
  onChoose: () => void;
  onWrite: (expected: string, reason: Written['reason']) => void;
  onEnter: () => void;
};

function Row({ asked, written, chosen, closed, error, onChoose, onWrite, onEnter }: RowProps) {
  const instrument = useInstrument()(asked.function);
  const [text, setText] = useState(written?.expected ?? '');
  const [why, setWhy] = useState(written?.reason ?? null);
  const name = `Reading ${asked.no}`;
  const whole = text.trim() !== '' && (asked.choice.length === 0 || why !== null);
  return (
    <li className={chosen ? 'asked chosen' : 'asked'} data-asked={asked.no} onFocus={onChoose} onPointerDown={onChoose}>
      <p className="what">
        <b>{asked.no}</b> {instrument.label}{' '}
        <span className="mono">
          {asked.red}
          {asked.black && ` → ${asked.black}`}
        </span>{' '}
        <span className="quiet">{asked.state}</span>
      </p>
      <div className="row one-line">
        <input
          className="text-field mono expects"
          aria-label={`${name}, expected`}
          value={text}
          maxLength={40}
          disabled={closed}
          placeholder={instrument.hint}
          onChange={(e) => setText(e.target.value)}
          onBlur={() => onWrite(text.trim(), why)}
          onKeyDown={(e) => {
            if (e.key === 'Enter') {
              // Else it would press what has the focus next.
              e.preventDefault();
              onWrite(text.trim(), why);
              onEnter();
            }
          }}
        />
        {asked.choice.length > 0 && (
          <select
            className="more why"
            aria-label={`${name}, reason`}
            value={why ?? ''}
            disabled={closed}
            onChange={(e) => {
              const found = asked.choice.find((c) => c.reason === e.target.value)?.reason ?? null;
              setWhy(found);
              onWrite(text.trim(), found);
            }}
          >
            <option value="">because …</option>
            {asked.choice.map((c) => (
              <option key={c.reason} value={c.reason}>
                {c.text}
              </option>
            ))}
          </select>
        )}
        <span className="tick" aria-hidden>
          {written && whole ? '✓' : ''}
        </span>
      </div>
      {error && (
        <p className="error-line tight" role="alert">
          {error}
        </p>
      )}
    </li>
  );
}
