// The mark sheet: every line with its reasons, each naming the step it comes from.
import { useQuery } from '@tanstack/react-query';
import type { ReactNode } from 'react';
import { Link, useParams } from 'react-router';

import { api, ask, type AttemptView, type MarkLine, type Schemas } from '../../api/client';
import { is, useMe } from '../../app/me';
import { Private, PrivatePart } from '../../app/projector';
import { Shell } from '../../app/Shell';
import { isWaiting, stopMarking, WaitingFor } from '../../app/Waiting';
import { FromTheFront } from '../bench/FromTheFront';
import { Afterwards } from './Afterwards';
import { CostOf } from './CostOf';
import { GiveMarks } from './GiveMarks';
import { MarkAgain } from './MarkAgain';
import { Replay } from './Replay';
import { AskLook, TheLook, useLooks } from './SecondLook';
import { useDebrief } from './useDebrief';
import './Sheet.css';

export default function Sheet() {
  const id = Number(useParams().id);
  const me = useMe().data;
  const attempt = useQuery({
    queryKey: ['attempt', id],
    queryFn: () => ask(api.GET('/api/attempts/{id}', { params: { path: { id } } })),
  });
  // What was predicted on paper, or entered on a test sheet, has no way to go through: the mark sheet says all of it.
  const entered = (attempt.data?.asked.length ?? 0) > 0 || !!attempt.data?.sheet || !!attempt.data?.build;
  const practised = attempt.data?.purpose === 'practice' && !entered;
  const sheet = useQuery({
    queryKey: ['sheet', id],
    queryFn: () => ask(api.GET('/api/attempts/{id}/sheet', { params: { path: { id } } })),
    staleTime: 0,
    enabled: attempt.data?.purpose === 'marks' || entered,
  });
  const marks = isWaiting(sheet.data) ? undefined : sheet.data;
  const home = !attempt.data?.own
    ? { text: 'Classes', to: '/classes' }
    : is(me, 'student')
      ? { text: 'Bench', to: '/attempts' }
      : { text: 'Lessons', to: '/lessons' };
  return (
    <Shell crumbs={[home, { text: attempt.data?.title ?? '…' }, { text: practised ? 'Step by step' : 'Mark sheet' }]}>
      {/* The class is also asked once all have handed in. */}
      {attempt.data?.own && attempt.data.in_class && <FromTheFront attempt={id} />}
      <main className="page" tabIndex={0}>
        {attempt.data && practised && <Practised attempt={attempt.data} />}
        {attempt.data?.purpose === 'tools' && <p>Nothing is marked on a bench for trying the tools.</p>}
        {isWaiting(sheet.data) && (
          <WaitingFor
            key={sheet.dataUpdatedAt}
            what="Marking: every reading is held against every fault that was possible."
            events={`/api/attempts/${id}/waiting`}
            first={sheet.data}
            onDone={() => void sheet.refetch()}
            onAgain={() => void sheet.refetch()}
            onStop={attempt.data?.marks ? () => void stopMarking(id) : undefined}
          />
        )}
        {sheet.error && (
          <p className="error-line" role="alert">
            {sheet.error.message}
          </p>
        )}
        {marks && attempt.data && (
          <PrivatePart what="Marks are">
            <Marked
              id={id}
              sheet={marks}
              title={attempt.data.title}
              student={attempt.data.student}
              instructor={attempt.data.marks}
              closed={attempt.data.bench.handed_in}
              asks={attempt.data.own && attempt.data.in_class && attempt.data.bench.handed_in}
            />
          </PrivatePart>
        )}
        {attempt.data && (marks || practised) && (
          <>
            {!entered && (
              <>
                <h2 className="apart">Readings</h2>
                <Readings view={attempt.data.bench} />
                <h2 className="apart">Step by step</h2>
                <Replay id={id} attempt={attempt.data} />
              </>
            )}
            <Afterwards attempt={id} />
            <p className="quiet apart">
              Cimento trains; it does not replace the maker’s service information, the shop’s rules, local law or
              licensed practice.
            </p>
            {attempt.data.own && (
              <p>
                <Link to={`/attempts/${id}`}>Back to the bench</Link>
              </p>
            )}
          </>
        )}
      </main>
    </Shell>
  );
}

function Practised({ attempt }: { attempt: AttemptView }) {
  const hints = attempt.bench.hints;
  const fault = useDebrief(attempt.id).told?.fault ?? '';
  return (
    <>
      <h1>{attempt.title}</h1>
      <p>
        <Private>{attempt.student}</Private> · practice, not marked · {attempt.bench.minutes.toFixed(0)} min,{' '}
        {hints.reduce((sum, h) => sum + h.minutes, 0)} of them for {hints.length}{' '}
        {hints.length === 1 ? 'hint' : 'hints'}
      </p>
      {fault && (
        <p id="the-fault">
          The fault:{' '}
          <b className="bad">
            <Private>{fault}</Private>
          </b>
        </p>
      )}
    </>
  );
}

type MarkedProps = {
  id: number;
  sheet: Schemas['SheetView'];
  title: string;
  student: string;
  instructor: boolean;
  closed: boolean;
  /** It is the student's own, who may ask for a second look. */
  asks: boolean;
};

function Marked({ id, sheet, title, student, instructor, closed, asks }: MarkedProps) {
  const looks = useLooks(id, closed);
  const looksAt = (criterion: string) => looks.filter((l) => l.criterion === criterion);
  const mayAsk = (criterion: string) => asks && looksAt(criterion).length === 0;
  // What was given as an answer is said there.
  const said = ({ criterion, given }: MarkLine) =>
    given && !looksAt(criterion).some((l) => l.answer?.text === given.reason) ? given.reason : '';
  return (
    <>
      <div className="title-line">
        <div className="grow">
          <h1>{title}</h1>
          <p className="close">
            {student} · the fault: <b className="bad">{sheet.fault}</b>
            {sheet.ambiguity.length > 1 && (
              <span className="quiet"> (no permitted reading tells it from {sheet.ambiguity.join(', ')})</span>
            )}
          </p>
        </div>
        <div className="mono total" id="total">
          {sheet.says}
          {!sheet.graded && <span className="quiet of-total"> / 100</span>}
          {sheet.total !== sheet.computed && <div className="quiet computed">computed {sheet.computed.toFixed(1)}</div>}
        </div>
      </div>
      <p className="no-print close">
        <a href={`/api/attempts/${id}/sheet.csv`} download>
          As CSV
        </a>{' '}
        ·{' '}
        <a
          href="#print"
          onClick={(e) => {
            e.preventDefault();
            window.print();
          }}
        >
          Print
        </a>
        {instructor && closed && (
          <>
            {' '}
            · <MarkAgain id={id} />
          </>
        )}
      </p>
      <table className="sheet-table apart">
        <thead>
          <tr>
            <th className="criterion-column">Criterion</th>
            <th className="step-column">Step</th>
            <th>Why</th>
            <th className="number">Earned</th>
            <th className="number">Marks</th>
          </tr>
        </thead>
        {sheet.lines.map((line) => (
          <tbody key={line.criterion} data-criterion={line.criterion}>
            {line.details.map((d, n) => (
              <tr key={n}>
                <td>{n === 0 && <b>{line.title}</b>}</td>
                <td className="mono quiet">{d.step ?? '–'}</td>
                <td className={d.earned < d.possible || d.earned < 0 ? 'bad' : undefined}>{d.text}</td>
                <td className="number quiet">{earned(d)}</td>
                <td className="number">
                  {n === 0 && (
                    <>
                      {typeof line.given?.marks === 'number' && <b className="bad">{line.given.marks.toFixed(1)} </b>}
                      {typeof line.given?.marks === 'number' ? (
                        <s className="quiet">{line.marks.toFixed(1)}</s>
                      ) : (
                        <b>{line.marks.toFixed(1)}</b>
                      )}
                      <span className="quiet"> / {line.out_of.toFixed(1)}</span>
                      {instructor && (
                        <div>
                          <GiveMarks id={id} line={line} />
                        </div>
                      )}
                      {mayAsk(line.criterion) && (
                        <div>
                          <AskLook id={id} line={line} />
                        </div>
                      )}
                    </>
                  )}
                </td>
              </tr>
            ))}
            {looksAt(line.criterion).map((look) => (
              <Beneath key={look.criterion}>
                <TheLook id={id} line={line} look={look} answers={instructor} />
              </Beneath>
            ))}
            {said(line) && (
              <Beneath>
                <i>The instructor: {said(line)}</i>
              </Beneath>
            )}
          </tbody>
        ))}
        {sheet.safety.length > 0 && (
          <tbody data-criterion="safety">
            {sheet.safety.map((e, n) => (
              <tr key={`${e.step} ${e.text}`}>
                <td>{n === 0 && <b>Safety</b>}</td>
                <td className="mono quiet">{e.step}</td>
                <td className="bad">
                  {e.serious && <b>Serious. </b>}
                  {e.text}
                </td>
                <td />
                <td className="number">
                  {n === 0 && <b className="bad">−{sheet.safety_takes.toFixed(1)}</b>}
                  {n === 0 && mayAsk(SAFETY.criterion) && (
                    <div>
                      <AskLook id={id} line={SAFETY} />
                    </div>
                  )}
                </td>
              </tr>
            ))}
            {looksAt(SAFETY.criterion).map((look) => (
              <Beneath key={look.criterion}>
                <TheLook id={id} look={look} answers={instructor} />
              </Beneath>
            ))}
          </tbody>
        )}
      </table>
      {sheet.elsewhere?.map((other) => (
        <p key={other.asks} className="close" data-elsewhere>
          By a school that asks for {other.asks}, technique would have {other.technique.toFixed(1)} and the whole{' '}
          {other.total.toFixed(1)}. This lesson asks for the other, and said so beforehand.
        </p>
      ))}
      {sheet.cost && <CostOf cost={sheet.cost} />}
      {sheet.slips.length > 0 && (
        <>
          <h2 className="apart">Slips of technique, on record</h2>
          <ul>
            {sheet.slips.map((s) => (
              <li key={`${s.step} ${s.kind}`}>
                Step {s.step}: {s.text}
              </li>
            ))}
          </ul>
        </>
      )}
    </>
  );
}

const SAFETY = { criterion: 'safety', title: 'Safety' };

/** A row that says something of the line above it. */
function Beneath({ children }: { children: ReactNode }) {
  return (
    <tr>
      <td />
      <td />
      <td colSpan={3}>{children}</td>
    </tr>
  );
}

function short(n: number): string {
  return Number.isInteger(n) ? String(n) : n.toFixed(2);
}

function Readings({
  view,
}: {
  view: {
    ledger: {
      step: number;
      state: string;
      red?: string | null;
      black?: string | null;
      expected?: string | null;
      shown: { text: string; unit: string };
      verdict?: string | null;
    }[];
  };
}) {
  return (
    <table className="sheet-table">
      <thead>
        <tr>
          <th>Step</th>
          <th>State</th>
          <th>Red · black</th>
          <th className="number">Expected</th>
          <th className="number">Read</th>
          <th>Verdict</th>
        </tr>
      </thead>
      <tbody>
        {view.ledger.map((l) => (
          <tr key={l.step}>
            <td className="mono quiet">{l.step}</td>
            <td>{l.state}</td>
            <td className="mono">
              {l.red ?? 'air'} · {l.black ?? 'air'}
            </td>
            <td className="number">{l.expected ?? '–'}</td>
            <td className="number">
              {l.shown.text} {l.shown.unit}
            </td>
            <td>{l.verdict?.replaceAll('_', ' ') ?? '–'}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** What a line earned; nothing for what only tells. */
function earned({ earned, possible }: { earned: number; possible: number }): string {
  if (possible > 0) return `${short(earned)} of ${short(possible)}`;
  return earned === 0 ? '' : short(earned);
}
