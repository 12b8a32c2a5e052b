// The test sheet: its rows, what was last read along each, and what the student says it is.
import { forwardRef, useImperativeHandle, useRef } from 'react';

import type { Action, AttemptView, LedgerLine } from '../../api/client';
import { useLighting } from '../../diagram/chosen';
import type { Leads } from './meter/state';
import './TestSheet.css';

type Sheet = NonNullable<AttemptView['sheet']>;
type RowToFill = Sheet['rows'][number];

type Props = {
  attempt: AttemptView;
  sheet: Sheet;
  leads: Leads;
  onLeads: (points: string[]) => void;
  act: (action: Action) => Promise<unknown>;
};

export type TestSheetHandle = {
  /** To what the row between two points is, or else to the first row of which nothing is said yet. */
  focus: (points?: string[]) => void;
};

export const TestSheet = forwardRef<TestSheetHandle, Props>(function TestSheet(props, handle) {
  const { attempt, sheet, leads, onLeads, act } = props;
  const view = attempt.bench;
  const body = useRef<HTMLTableSectionElement>(null);
  useImperativeHandle(handle, () => ({
    focus: (points) => {
      const all = [...(body.current?.querySelectorAll('select') ?? [])];
      const between = sheet.rows.findIndex((row) => points && row.points?.every((p) => points.includes(p)));
      const open = all.find((s) => s.value === '') ?? all[0];
      (points ? all[between] : open)?.focus();
    },
  }));
  const now = view.state.split(' · ');
  const wanted = (sheet.state ?? '').split(' · ').filter((word) => word && !now.includes(word));
  const unmarked = sheet.leads.length > 0;
  return (
    <section aria-label="Test sheet" className="in-reasoning test-sheet">
      <h2>
        Test sheet{' '}
        <span className="quiet count" role="status" id="entered-count">
          {view.entered?.length ?? 0} of {sheet.rows.length} entered
        </span>
      </h2>
      {(wanted.length > 0 || (sheet.state && sheet.state !== view.state)) && (
        <p className="bad tight" role="status">
          What is read now does not count: first bring the machine to “{wanted.join(' · ') || sheet.state}”.
        </p>
      )}
      <table className="sheet-table">
        <thead>
          <tr>
            <th>{unmarked ? 'Lead' : 'Piece'}</th>
            {!unmarked && <th className="number">Read</th>}
            <th>It is</th>
          </tr>
        </thead>
        <tbody ref={body}>
          {sheet.rows.map((row) => (
            <Row
              key={row.no}
              row={row}
              sheet={sheet}
              read={lastAlong(row, sheet, view.ledger)}
              entered={view.entered?.find((e) => e.row === row.no)?.is ?? ''}
              // Not while something is being done: what has just been read takes the focus to its row.
              closed={view.handed_in}
              leadsOn={isOn(row, leads)}
              onLeads={onLeads}
              onEnter={(is) => void act({ do: 'enter', row: row.no, is: is || null })}
            />
          ))}
        </tbody>
      </table>
    </section>
  );
});

type RowProps = {
  row: RowToFill;
  sheet: Sheet;
  read?: LedgerLine;
  entered: string;
  closed: boolean;
  leadsOn: boolean;
  onLeads: (points: string[]) => void;
  onEnter: (is: string) => void;
};

function Row({ row, sheet, read, entered, closed, leadsOn, onLeads, onEnter }: RowProps) {
  const points = row.points;
  const lighting = useLighting(row.title);
  return (
    <tr data-row={row.no} className={leadsOn ? 'chosen' : undefined} {...lighting}>
      <td>
        {points ? (
          <button
            type="button"
            className="piece"
            disabled={closed}
            title={`Put the leads on ${points.join(' and ')}`}
            onClick={() => onLeads(points)}
          >
            <b className="mono">{row.title}</b>
            <small>
              {row.about} · {row.expects}
            </small>
          </button>
        ) : (
          <b className="mono lead-letter">{row.title}</b>
        )}
      </td>
      {points && <td className="number">{read ? `${read.shown.text} ${read.shown.unit}` : '–'}</td>}
      <td>
        <select
          className="more"
          aria-label={`${row.title} is`}
          value={entered}
          disabled={closed}
          onChange={(e) => onEnter(e.target.value)}
        >
          <option value="">–</option>
          {sheet.choices.map((c) => (
            <option key={c.word} value={c.word}>
              {c.text}
            </option>
          ))}
        </select>
      </td>
    </tr>
  );
}

/** The last reading between a row's ends, with its instrument, in its state. */
export function lastAlong(row: RowToFill, sheet: Sheet, ledger: LedgerLine[]): LedgerLine | undefined {
  const [a, b] = row.points ?? [];
  const along = (l: LedgerLine) => (l.red === a && l.black === b) || (l.red === b && l.black === a);
  const counts = (l: LedgerLine) => l.function === sheet.function && (!sheet.state || l.state === sheet.state);
  return row.points ? ledger.findLast((l) => along(l) && counts(l)) : undefined;
}

function isOn(row: RowToFill, leads: Leads): boolean {
  const on = [leads.red, leads.black];
  return !!row.points && row.points.every((p) => on.includes(p));
}
