// The work order and a bench sheet with blank lines, to be printed on A4 or Letter.
import { useQuery } from '@tanstack/react-query';
import { Button } from 'antd';
import { useParams } from 'react-router';

import { api, ask, type AttemptView, type Schemas } from '../../api/client';
import { useInstrument } from '../../app/instruments';
import { Private } from '../../app/projector';
import { Shell } from '../../app/Shell';
import { Diagram } from '../../diagram/Diagram';
import { sizeOf } from '../bench/Wiring';
import './Paper.css';
import './sheet.css';

const LINES = 14;
const nothing = () => undefined;
const none = {};
const BLANKS = [1, 2, 3, 4, 5, 6];

export default function Paper() {
  const id = Number(useParams().id);
  const attempt = useQuery({
    queryKey: ['attempt', id],
    queryFn: () => ask(api.GET('/api/attempts/{id}', { params: { path: { id } } })),
  });
  const order = attempt.data;
  return (
    <Shell
      crumbs={[
        { text: 'Bench', to: '/attempts' },
        { text: order?.title ?? '…', to: `/attempts/${id}` },
        { text: 'On paper' },
      ]}
    >
      <main className="page paper" tabIndex={0}>
        {attempt.error && <p className="error-line">{attempt.error.message}</p>}
        {order && (
          <>
            <p className="no-print">
              <Button onClick={() => window.print()}>Print</Button>{' '}
              <span className="quiet">two pages, A4 or Letter</span>
            </p>
            <section aria-label="Work order">
              <h1>Work order: {order.title}</h1>
              <p>
                <Private>{order.student}</Private> · date ____________ · minutes ________
              </p>
              {order.words && (
                <p>
                  {order.build ? 'Wanted' : 'The customer says'}: <b>“{order.words}”</b>
                </p>
              )}
              <p>{asked(order)}</p>
              {order.papers.diagram && (
                <div className="diagram">
                  <Diagram drawing={order.drawing} marks={none} onPoint={nothing} still />
                </div>
              )}
              <h2>Cautions</h2>
              <ul>
                {order.cautions.map((c) => (
                  <li key={c}>{c}</li>
                ))}
              </ul>
            </section>
            {order.asked.length > 0 ? (
              <AskedPage order={order} />
            ) : order.sheet ? (
              <RowsPage order={order} sheet={order.sheet} />
            ) : order.build ? (
              <WiresPage order={order} list={order.build.list} />
            ) : (
              <section aria-label="Bench sheet" className="sheet-page">
                <h1>Bench sheet: {order.title}</h1>
                <table className="sheet-table blank bench-sheet">
                  <thead>
                    <tr>
                      <th>#</th>
                      <th>State</th>
                      <th>Instrument</th>
                      <th>Red · black</th>
                      <th>Expected</th>
                      <th>Read</th>
                      <th>Verdict, and what it clears</th>
                    </tr>
                  </thead>
                  <tbody>
                    {Array.from({ length: LINES }, (_, n) => (
                      <tr key={n}>
                        <td className="mono quiet">{n + 1}</td>
                        {BLANKS.map((c) => (
                          <td key={c} />
                        ))}
                      </tr>
                    ))}
                  </tbody>
                </table>
                <p>The fault: place ________________ · how it failed ________________ · proven by lines ________</p>
                <p>
                  Repair: ________________________________ · complaint tried again: ☐ gone ☐ not gone · reading
                  repeated: ______
                </p>
              </section>
            )}
          </>
        )}
      </main>
    </Shell>
  );
}

/** What is asked for, or what was tried. */
function asked(order: AttemptView): string {
  if (order.sheet) return order.sheet.about;
  if (order.build) return 'To be wired, tried and measured.';
  if (order.asked.length === 0) return `Tried: ${order.complaint}`;
  return order.told ? `The fault is known: ${order.told}.` : 'The machine is healthy.';
}

/** The rows of a test sheet, with room for what is read and what each is. */
function RowsPage({ order, sheet }: { order: AttemptView; sheet: NonNullable<AttemptView['sheet']> }) {
  const named = sheet.leads.length === 0;
  return (
    <section aria-label="Test sheet" className="sheet-page">
      <h1>Test sheet: {order.title}</h1>
      <p>Each row is one of: {sheet.choices.map((c) => c.text).join(' · ')}</p>
      <table className="sheet-table blank bench-sheet">
        <thead>
          <tr>
            <th>#</th>
            <th>{named ? 'Piece' : 'Lead'}</th>
            <th>{named ? 'Red · black' : 'Read to which lead'}</th>
            <th>Good</th>
            <th>Read</th>
            <th>It is</th>
          </tr>
        </thead>
        <tbody>
          {sheet.rows.map((row) => (
            <tr key={row.no}>
              <td className="mono quiet">{row.no}</td>
              <td>
                <b className="mono">{row.title}</b> {row.about}
              </td>
              <td className="mono">{row.points?.join(' · ')}</td>
              <td>{row.expects}</td>
              <td />
              <td />
            </tr>
          ))}
        </tbody>
      </table>
      {!named && (
        <ul aria-label="From the papers">
          {sheet.choices.map((c) => (
            <li key={c.word}>
              {c.text}: {c.spec}
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}

/** The wires to be put in, listed or to be written down as they are, with room for what each loses. */
function WiresPage({ order, list }: { order: AttemptView; list: Schemas['WireDoc'][] }) {
  const lines: (Schemas['WireDoc'] | undefined)[] = list.length > 0 ? list : Array.from({ length: LINES });
  return (
    <section aria-label="Wire list" className="sheet-page">
      <h1>Wire list: {order.title}</h1>
      <table className="sheet-table blank bench-sheet">
        <thead>
          <tr>
            <th>Wire</th>
            <th>From</th>
            <th>To</th>
            <th>Size</th>
            <th>Put in</th>
            <th>Drop in use</th>
          </tr>
        </thead>
        <tbody>
          {lines.map((w, n) => (
            <tr key={w?.id ?? n}>
              <td className="mono">{w?.id}</td>
              <td className="mono">{w?.from}</td>
              <td className="mono">{w?.to}</td>
              <td>{w && sizeOf(w)}</td>
              <td />
              <td />
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

/** The readings that are asked for, with room for what they will be and why. */
function AskedPage({ order }: { order: AttemptView }) {
  const instrument = useInstrument();
  return (
    <section aria-label="Predictions" className="sheet-page">
      <h1>Predictions: {order.title}</h1>
      <table className="sheet-table blank bench-sheet">
        <thead>
          <tr>
            <th>#</th>
            <th>State</th>
            <th>Instrument</th>
            <th>Red · black</th>
            <th>Expected</th>
            <th>Because</th>
          </tr>
        </thead>
        <tbody>
          {order.asked.map((a) => (
            <tr key={a.no}>
              <td className="mono quiet">{a.no}</td>
              <td>{a.state}</td>
              <td>{instrument(a.function).label}</td>
              <td className="mono">
                {a.red}
                {a.black && ` · ${a.black}`}
              </td>
              <td />
              <td />
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
