// Predicting on paper: readings of a machine that nobody measures, each with what it will be and why.
import { Button } from 'antd';
import { useEffect, useMemo, useRef, useState } from 'react';
import { Link } from 'react-router';

import type { Schemas } from '../../api/client';
import { useInstrument } from '../../app/instruments';
import { Shell } from '../../app/Shell';
import { useStable } from '../../app/useStable';
import { useChoose } from '../../diagram/chosen';
import type { PointMark } from '../../diagram/Diagram';
import { MachinePane } from './MachinePane';
import { TimeLeft } from './TimeLeft';
import type { AtWork } from './useBench';
import { useHandIn } from './useHandIn';
import './Conclusion.css';
import './layout.css';
import './OnPaper.css';

type Asked = Schemas['ToPredict'];
type Written = Schemas['PredictedAt'];

export function OnPaper({ id, attempt, act, busy, error }: AtWork) {
  const { bench: view, asked } = attempt;
  const [at, setAt] = useState(1);
  const [drafts, setDrafts] = useState<Record<number, Draft>>({});
  // Readings that were not taken down, and the last that was tried: it is what the error is about.
  const [refused, setRefused] = useState<number[]>([]);
  const [tried, setTried] = useState<number>();
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
  const draftOf = (no: number): Draft =>
    drafts[no] ?? { text: written(no)?.expected ?? '', reason: written(no)?.reason ?? null };
  const isOpen = (no: number, { text, reason }: Draft) => {
    const known = written(no);
    return text.trim() !== '' && !(known?.expected === text.trim() && (known.reason ?? null) === reason);
  };
  const write = async (no: number, draft = draftOf(no)) => {
    if (!isOpen(no, draft)) return undefined;
    setTried(no);
    const done = await act({ do: 'predict', no, expected: draft.text.trim(), reason: draft.reason });
    setRefused((old) => [...old.filter((n) => n !== no), ...(done ? [] : [no])]);
    return done;
  };
  // What was typed while there was no network is taken down before anything else is done with it.
  const writeAll = async () => {
    let bench: typeof view | undefined = view;
    for (const { no } of asked) {
      if (!isOpen(no, draftOf(no))) continue;
      bench = await write(no);
      if (!bench) {
        fields()[no - 1]?.focus();
        return undefined;
      }
    }
    return bench;
  };
  const back = useStable(() => void writeAll());
  useEffect(() => {
    window.addEventListener('online', back);
    return () => window.removeEventListener('online', back);
  }, [back]);
  const end = async () => {
    const bench = await writeAll();
    if (bench) handIn(bench.missing);
  };
  const fields = () => [...(list.current?.querySelectorAll<HTMLElement>('input') ?? [])];
  const onward = (no: number) => {
    (fields()[no] ?? document.getElementById('hand-in'))?.focus();
  };
  const choosePoint = useStable((point: string) => {
    const found = asked.find((a) => a.red === point && a.no !== at) ?? asked.find((a) => a.black === point);
    if (found) fields()[found.no - 1]?.focus();
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
                  draft={draftOf(a.no)}
                  isOpen={isOpen(a.no, draftOf(a.no))}
                  error={refused.includes(a.no) ? (tried === a.no && error?.message) || NOT_YET : undefined}
                  onChoose={() => setAt(a.no)}
                  onDraft={(draft) => setDrafts((old) => ({ ...old, [a.no]: draft }))}
                  onWrite={(draft) => void write(a.no, draft)}
                  onEnter={() => onward(a.no)}
                />
              ))}
            </ol>
            {error && refused.length === 0 && (
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
                <Button id="hand-in" type="primary" onClick={() => void end()} disabled={busy}>
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

/** What somebody has typed for a reading. */
type Draft = { text: string; reason: NonNullable<Written['reason']> | null };

const NOT_YET = 'Not taken down: correct it, or press Enter to try again.';
const nothing = () => undefined;
const noDoings = () => null;

type RowProps = {
  asked: Asked;
  written?: Written;
  chosen: boolean;
  closed: boolean;
  draft: Draft;
  /** It differs from what was taken down. */
  isOpen: boolean;
  error?: string;
  onChoose: () => void;
  onDraft: (draft: Draft) => void;
  onWrite: (draft?: Draft) => void;
  onEnter: () => void;
};

function Row({ asked, written, draft, isOpen, chosen, closed, error, onChoose, onDraft, onWrite, onEnter }: RowProps) {
  const instrument = useInstrument()(asked.function);
  const name = `Reading ${asked.no}`;
  const whole = written && !isOpen && (asked.choice.length === 0 || draft.reason !== null);
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
          value={draft.text}
          maxLength={40}
          disabled={closed}
          placeholder={instrument.hint}
          onChange={(e) => onDraft({ ...draft, text: e.target.value })}
          onBlur={() => onWrite()}
          onKeyDown={(e) => {
            if (e.key === 'Enter') {
              // Else it would press what has the focus next.
              e.preventDefault();
              onWrite();
              onEnter();
            }
          }}
        />
        {asked.choice.length > 0 && (
          <select
            className="more why"
            aria-label={`${name}, reason`}
            value={draft.reason ?? ''}
            disabled={closed}
            onChange={(e) => {
              const found = asked.choice.find((c) => c.reason === e.target.value)?.reason ?? null;
              const changed = { ...draft, reason: found };
              onDraft(changed);
              onWrite(changed);
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
          {whole ? '✓' : ''}
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
