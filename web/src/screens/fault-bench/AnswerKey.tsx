// The answer key of a state: healthy and faulted reading, tolerance, and the reason.
import { Fragment, useState } from 'react';

import type { FaultDoc, KeyRow } from '../../api/client';
import { FUNCTIONS } from '../bench/Meter';

/** The state of rows that are read with their place by itself. */
const ISOLATED = 'isolated';

/** What needs its place taken out comes after what is read in the circuit. */
const alone = (r: KeyRow) => (r.state === ISOLATED ? 1 : 0);

type Props = { circuit: number; faults: FaultDoc[]; rows: KeyRow[]; state: string };

export function AnswerKey({ circuit, faults, rows, state }: Props) {
  const [telling, setTelling] = useState(true);
  const here = rows.filter((r) => r.state === state || r.state === ISOLATED).sort((a, b) => alone(a) - alone(b) || b.apart - a.apart);
  const tell = here.filter((r) => r.tells);
  const shown = telling && tell.length > 0 ? tell : here;
  return (
    <section aria-label="Answer key">
      <div className="row" style={{ justifyContent: 'space-between' }}>
        <h2>Answer key</h2>
        <label className="quiet">
          <input type="checkbox" checked={telling} onChange={(e) => setTelling(e.target.checked)} /> only what tells (
          {tell.length} of {here.length})
        </label>
        <a href={`/api/circuits/${circuit}/key.csv?faults=${encodeURIComponent(JSON.stringify(faults))}`} download>
          All states as CSV
        </a>
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
          {shown.map((r) => (
            <Fragment key={`${r.state} ${r.kind} ${r.function} ${r.red} ${r.black} ${r.place ?? ''}`}>
              <tr>
                <td className="place">
                  {[r.red, r.black].filter(Boolean).join(' · ')}
                  {r.function !== 'dc_volts' && (
                    <span className="quiet">
                      {' '}
                      {FUNCTIONS[r.function].toLowerCase()}
                      {r.state === ISOLATED && ', isolated'}
                    </span>
                  )}
                </td>
                <td className="number">
                  {r.healthy.text} {r.healthy.unit}
                </td>
                <td className="number quiet">{r.tolerance.toFixed(2)}</td>
                <td className={`number ${r.tells ? 'bad' : ''}`}>
                  {r.tells ? <b>{r.faulted.text}</b> : r.faulted.text} {r.faulted.unit}
                </td>
              </tr>
              <tr>
                <td colSpan={4} className="quiet" style={{ paddingTop: 0, borderTop: 0 }}>
                  {r.reason}
                </td>
              </tr>
            </Fragment>
          ))}
        </tbody>
      </table>
    </section>
  );
}
