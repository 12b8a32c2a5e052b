// What the attempts of a class at one assignment have in common, each with its number.
import { useQuery } from '@tanstack/react-query';
import { useMemo, type ReactNode } from 'react';
import { useParams } from 'react-router';

import { api, ask, type Schemas } from '../../api/client';
import { Shell } from '../../app/Shell';
import { ChosenPlace, Named } from '../../diagram/chosen';
import { Diagram, type PointMark } from '../../diagram/Diagram';
import { copper, quiet } from '../../theme';
import './Insight.css';

type View = Schemas['InsightView'];
type Counted = Schemas['Counted'];
type Earned = Schemas['Earned'];

const nothing = () => undefined;
const percent = (share: number) => `${Math.round(100 * share)} %`;

export default function Insight() {
  const id = Number(useParams().id);
  const told = useQuery({
    queryKey: ['insight', id],
    queryFn: () => ask(api.GET('/api/assignments/{id}/insight', { params: { path: { id } } })),
    staleTime: 0,
  });
  const view = told.data;
  return (
    <Shell crumbs={[{ text: 'Classes', to: '/classes' }, { text: view?.class ?? '…' }, { text: 'Insight' }]}>
      <main className="page insight" tabIndex={0}>
        <div className="row">
          <h1>{view?.title ?? '…'}</h1>
          <a className="at-the-right no-print" href={`/api/assignments/${id}/insight.csv`} download>
            As CSV
          </a>
        </div>
        {told.error && <p className="error-line">{told.error.message}</p>}
        {view && (
          <ChosenPlace drawing={view.drawing}>
            <Told view={view} />
          </ChosenPlace>
        )}
      </main>
    </Shell>
  );
}

function Told({ view }: { view: View }) {
  const n = view.attempts;
  const heat = useMemo(() => heatOf(view), [view]);
  if (n === 0) {
    return (
      <p>
        Nothing is marked yet: {view.handed_in} handed in. What they have in common stands here once there are mark
        sheets.
      </p>
    );
  }
  return (
    <>
      <p className="quiet close">
        From {n} marked {n === 1 ? 'attempt' : 'attempts'}
        {view.handed_in > n && `; ${view.handed_in - n} more are being marked`}.
        {n < 3 && ' So few say more of one of them than of the class.'}
      </p>
      {view.doubts.map((doubt) => (
        <p key={doubt} className="bad close">
          {doubt}
        </p>
      ))}
      <div className="columns">
        <Part title="Wrong places that misled">
          <Counts of={view.misled} all={n} />
        </Part>
        <Part title="Slips that came back">
          <Counts of={view.slips} all={n} />
        </Part>
        <Part title="Predictions, by what was measured">
          <Shares of={view.predictions} what="readings" />
        </Part>
        <Part title="Marks, by line">
          <Shares of={view.lines} what="attempts" />
        </Part>
      </div>
      <h2 className="apart">Where they measured</h2>
      <p className="quiet close">Beside each point, how many of the {n} measured there.</p>
      <div className="diagram no-print">
        <Diagram drawing={view.drawing} marks={heat} onPoint={nothing} />
      </div>
      <p className="close">
        {view.measured.slice(0, 12).map((m) => (
          <span key={m.what} className="mono spaced">
            <Named id={m.what} /> {m.attempts}
          </span>
        ))}
      </p>
    </>
  );
}

function Part({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section aria-label={title}>
      <h2>{title}</h2>
      {children}
    </section>
  );
}

/** The most frequent of a list, each of how many. */
function Counts({ of, all }: { of: Counted[]; all: number }) {
  if (of.length === 0) return <p className="quiet close">None.</p>;
  return (
    <table className="sheet-table">
      <tbody>
        {of.slice(0, 8).map((c) => (
          <tr key={c.what}>
            <td>{c.what}</td>
            <td className="number">
              {c.attempts} of {all}
            </td>
            <td className="bar-cell">
              <Bar share={c.attempts / all} />
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Shares({ of, what }: { of: Earned[]; what: string }) {
  if (of.length === 0) return <p className="quiet close">None.</p>;
  return (
    <table className="sheet-table">
      <tbody>
        {of.map((e) => (
          <tr key={e.what}>
            <td>{e.what}</td>
            <td className="number">
              {percent(e.share)} <span className="quiet">of {e.of}</span>
              <span className="visually-hidden"> {what}</span>
            </td>
            <td className="bar-cell">
              <Bar share={e.share} />
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Bar({ share }: { share: number }) {
  return (
    <svg className="bar" viewBox="0 0 100 8" preserveAspectRatio="none" aria-hidden>
      <rect width={100 * share} height="8" />
    </svg>
  );
}

/** How many measured at each point; where most did, in copper. */
function heatOf(view: View): Record<string, PointMark> {
  const most = Math.max(1, ...view.measured.map((m) => m.attempts));
  return Object.fromEntries(
    view.measured.map((m) => [
      m.what,
      { tag: String(m.attempts), tagColour: m.attempts >= most / 2 ? copper : quiet, tells: m.attempts === most },
    ]),
  );
}
