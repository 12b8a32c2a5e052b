// A plug whose leads nobody has marked: the leads to put the meter on, what was read between each two, and the papers.
import type { AttemptView, LedgerLine } from '../../api/client';
import { useInstrument } from '../../app/instruments';
import type { PointMark } from '../../diagram/Diagram';
import './Unmarked.css';

type Sheet = NonNullable<AttemptView['sheet']>;

type Props = {
  attempt: AttemptView;
  sheet: Sheet;
  marks: Record<string, PointMark>;
  onPoint: (point: string) => void;
  onLeads: (points: string[]) => void;
};

export function Unmarked({ attempt, sheet, marks, onPoint, onLeads }: Props) {
  const { ledger, state } = attempt.bench;
  const instrument = useInstrument();
  const letters = sheet.rows.map((r) => r.title);
  const entered = (n: number) => {
    const is = attempt.bench.entered?.find((e) => e.row === n + 1)?.is;
    return sheet.choices.find((c) => c.word === is)?.text;
  };
  // What was read with another instrument, or as the machine stood otherwise, is another table.
  const shown = ledger.at(-1)?.function ?? sheet.function;
  const lines = ledger.filter((l) => l.function === shown && l.state === state);
  return (
    <div className="diagram unmarked" role="region" aria-label="The plug" tabIndex={0}>
      <div className="plug" role="group" aria-label="Leads">
        {sheet.leads.map((lead) => (
          <button
            key={lead}
            type="button"
            className={`chip lead${marks[lead]?.lead ? ` lead-${marks[lead]?.lead}` : ''}`}
            data-point={lead}
            aria-label={letters.includes(lead) ? `Lead ${lead}` : lead}
            onClick={() => onPoint(lead)}
          >
            {lead}
          </button>
        ))}
      </div>
      <table className="sheet-table between">
        <caption>
          {instrument(shown).label} between each two, red from the left, black from above: choose a cell to put the
          leads there
        </caption>
        <thead>
          <tr>
            <th />
            {sheet.leads.map((black) => (
              <th key={black} className="mono" scope="col">
                {black}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {sheet.leads.map((red) => (
            <tr key={red}>
              <th className="mono" scope="row">
                {red}
              </th>
              {sheet.leads.map((black) => (
                <td key={black}>
                  {red !== black && (
                    <button
                      type="button"
                      className={lineOf(lines, red, black) ? 'cell read' : 'cell'}
                      aria-label={`Red on ${red}, black on ${black}${told(lines, red, black)}`}
                      onClick={() => onLeads([red, black])}
                    >
                      {figure(lines, red, black)}
                    </button>
                  )}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      <h2>From the papers</h2>
      <table className="sheet-table papers">
        <thead>
          <tr>
            <th>What is there</th>
            <th>Reads</th>
            <th>Said to be it</th>
          </tr>
        </thead>
        <tbody>
          {sheet.choices.map((c) => (
            <tr key={c.word}>
              <td>{c.text}</td>
              <td>{c.spec}</td>
              <td className="mono">{letters.filter((_, n) => entered(n) === c.text).join(', ')}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

function lineOf(lines: LedgerLine[], red: string, black: string): LedgerLine | undefined {
  return lines.findLast((l) => l.red === red && l.black === black);
}

/** What was read so, or else the other way round, in brackets: most things read alike both ways, and some do not. */
export function figure(lines: LedgerLine[], red: string, black: string): string {
  const text = (l?: LedgerLine) => l && `${l.shown.text} ${l.shown.unit}`.trim();
  const other = text(lineOf(lines, black, red));
  return text(lineOf(lines, red, black)) ?? (other ? `(${other})` : '');
}

function told(lines: LedgerLine[], red: string, black: string): string {
  const shown = figure(lines, red, black);
  return shown ? `: ${shown}` : '';
}
