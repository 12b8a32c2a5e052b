// The answer key of a state: healthy and faulted reading, tolerance, and the reason.
import { Button } from 'antd';
import { Fragment, memo, useState } from 'react';
import { Link } from 'react-router';

import { Named } from '../../diagram/chosen';
import type { FaultDoc, KeyRow } from '../../api/client';
import { figure } from '../../app/figures';
import { useInstrument } from '../../app/instruments';
import '../bench/Ledger.css';
import '../paper/CircuitPaper.css';
import './AnswerKey.css';

/** The state of rows that are read with their place by itself. */
const ISOLATED = 'isolated';

/** So many rows are drawn at first: a whole key of a large machine has hundreds. */
const FIRST_ROWS = 40;

type Order = 'what changes most' | 'test point' | 'healthy' | 'faulted';

const number = (s: KeyRow['healthy']) =>
  typeof s.value === 'object' && 'number' in s.value ? s.value.number : Infinity;
const ORDERS: Record<Order, (a: KeyRow, b: KeyRow) => number> = {
  'what changes most': (a, b) => b.apart - a.apart,
  'test point': (a, b) => a.red.localeCompare(b.red, undefined, { numeric: true }),
  healthy: (a, b) => number(b.healthy) - number(a.healthy),
  faulted: (a, b) => number(b.faulted) - number(a.faulted),
};

/** Rows that have one reason stand together, the reasons in the order of the row that tells most of each. */
function byReason(rows: KeyRow[]) {
  const most = new Map<string, number>();
  for (const r of rows) most.set(r.reason, Math.max(most.get(r.reason) ?? 0, r.apart));
  const tells = (r: KeyRow) => most.get(r.reason) ?? 0;
  return (a: KeyRow, b: KeyRow) =>
    tells(b) - tells(a) || a.reason.localeCompare(b.reason) || ORDERS['what changes most'](a, b);
}

/** What rows stand together by. */
type Group = 'by reason' | 'by path' | 'by state';
const GROUPS: Group[] = ['by reason', 'by path', 'by state'];

const ELSEWHERE = 'on no path of this state';
const APART = 'isolated, taken out';

type Path = { title: string; points: string[] };
type Props = { circuit: number; faults: FaultDoc[]; rows: KeyRow[]; state: string; paths: Path[] };

/** Drawn again only when the rows change: there are many. */
export const AnswerKey = memo(function AnswerKey({ circuit, faults, rows, state, paths }: Props) {
  const instrument = useInstrument();
  const [telling, setTelling] = useState(true);
  const [order, setOrder] = useState<Order>('what changes most');
  const [group, setGroup] = useState<Group>('by reason');
  const [only, setOnly] = useState<KeyRow['function'] | ''>('');
  const inStates = group === 'by state' ? rows : rows.filter((r) => r.state === state || r.state === ISOLATED);
  const functions = [...new Set(inStates.map((r) => r.function))];
  const kept = functions.find((f) => f === only);
  const all = inStates.filter((r) => !kept || r.function === kept);
  // The state in view and the paths in their order come first, what is read with its place taken out last.
  const heads = [
    ...(group === 'by path' ? paths.map((p) => p.title) : [state, ...rows.map((r) => r.state)]),
    ELSEWHERE,
    APART,
  ];
  const headOf = (r: KeyRow): string => {
    if (r.state === ISOLATED) return APART;
    if (group !== 'by path') return r.state;
    return paths.find((p) => p.points.includes(r.red))?.title ?? ELSEWHERE;
  };
  const place = (r: KeyRow) => heads.indexOf(headOf(r));
  const ordered = order === 'what changes most' ? byReason(all) : ORDERS[order];
  const here = all.sort((a, b) => place(a) - place(b) || ordered(a, b));
  const tell = here.filter((r) => r.tells);
  const asked = telling && tell.length > 0 ? tell : here;
  const [whole, setWhole] = useState(false);
  const shown = whole ? asked : asked.slice(0, FIRST_ROWS);
  return (
    <section aria-label="Answer key">
      <div className="row spread">
        <h2>Answer key</h2>
        <label className="quiet">
          <input type="checkbox" checked={telling} onChange={(e) => setTelling(e.target.checked)} /> only readings that
          change ({tell.length} of {here.length})
        </label>
        <a href={`/api/circuits/${circuit}/key.csv?faults=${encodeURIComponent(JSON.stringify(faults))}`} download>
          All states as CSV
        </a>
        <Link id="key-paper" to={`/circuits/${circuit}/paper?faults=${encodeURIComponent(JSON.stringify(faults))}`}>
          on paper
        </Link>
        <select
          aria-label="Group the key"
          className="more"
          value={group}
          onChange={(e) => setGroup(e.target.value as Group)}
        >
          {GROUPS.map((g) => (
            <option key={g}>{g}</option>
          ))}
        </select>
        <select
          aria-label="Readings by"
          className="more"
          value={kept ?? ''}
          onChange={(e) => setOnly(e.target.value as typeof only)}
        >
          <option value="">all instruments</option>
          {functions.map((f) => (
            <option key={f} value={f}>
              {instrument(f).label}
            </option>
          ))}
        </select>
        <select
          aria-label="Sort the key by"
          className="more"
          value={order}
          onChange={(e) => setOrder(e.target.value as Order)}
        >
          {Object.keys(ORDERS).map((o) => (
            <option key={o}>{o}</option>
          ))}
        </select>
      </div>
      <table className="ledger key-rows" id="answer-key">
        <thead>
          <tr>
            <th>red · black</th>
            <th className="number">healthy</th>
            <th className="number">±</th>
            <th className="number">faulted</th>
          </tr>
        </thead>
        <tbody>
          {shown.map((r, n) => (
            <Fragment key={`${r.state} ${r.kind} ${r.function} ${r.red} ${r.black} ${r.place ?? ''}`}>
              {group !== 'by reason' && (n === 0 || headOf(r) !== headOf(shown[n - 1]!)) && (
                <tr>
                  <th colSpan={4} scope="rowgroup" className="heading">
                    {headOf(r)}
                  </th>
                </tr>
              )}
              {faults.length > 0 && r.reason !== shown[n - 1]?.reason && (
                <tr>
                  <td colSpan={4} className="quiet reason">
                    {r.reason}
                  </td>
                </tr>
              )}
              <tr>
                <td className="place">
                  <Named id={r.red} />
                  {r.black && (
                    <>
                      {' · '}
                      <Named id={r.black} />
                    </>
                  )}
                  {!instrument(r.function).is_dc_volts && (
                    <span className="quiet">
                      {' '}
                      {instrument(r.function).label.toLowerCase()}
                      {r.state === ISOLATED && ', isolated'}
                    </span>
                  )}
                </td>
                <td className={figure(r.healthy.text)}>
                  {r.healthy.text} {r.healthy.unit}
                </td>
                <td className="number quiet">{r.tolerance.toFixed(2)}</td>
                <td className={`${figure(r.faulted.text)} ${r.tells ? 'bad' : ''}`}>
                  {r.tells ? <b>{r.faulted.text}</b> : r.faulted.text} {r.faulted.unit}
                </td>
              </tr>
            </Fragment>
          ))}
        </tbody>
      </table>
      {asked.length > shown.length && (
        <Button size="small" onClick={() => setWhole(true)}>
          Show the other {asked.length - shown.length}
        </Button>
      )}
    </section>
  );
});
