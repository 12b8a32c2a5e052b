// The display. It shows what the server says it shows, and nothing once the meter stands otherwise.
import type { Instrument, LedgerLine } from '../../../api/client';
import './Display.css';

type Props = {
  /** What the dial is set to. */
  chosen: Instrument;
  /** The reading it shows, with the instrument it was taken with. */
  line?: LedgerLine;
  taken?: Instrument;
};

/** Longer figures are written smaller. */
const LONG = 6;

export function Display({ chosen, line, taken }: Props) {
  const range = line?.shown.range;
  const volts = (taken ?? chosen).function === 'dc_volts';
  return (
    <div className="display" aria-live="polite" id="display">
      <div className="top-line">
        <span>{(taken ?? chosen).label}</span>
        <span>{range ? `${taken?.ranged ? 'auto ' : ''}${range}` : ''}</span>
        <span>{line?.shown.beeps ? 'beeps' : volts ? '10 MΩ' : ''}</span>
      </div>
      <div className={(line?.shown.text.length ?? 0) > LONG ? 'figures long' : 'figures'}>
        {line ? (
          <>
            {line.shown.text} <span>{line.shown.unit}</span>
          </>
        ) : (
          <span className="visually-hidden">no reading yet</span>
        )}
      </div>
    </div>
  );
}
