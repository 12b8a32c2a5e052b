// Everything that was read, in order, under the state that the machine stood in.
import { Fragment, useEffect, useRef } from 'react';

import type { LedgerLine } from '../../api/client';
import { figure } from '../../app/figures';
import { useInstrument } from '../../app/instruments';
import { Named } from '../../diagram/chosen';
import { stateInWords } from './stairs';
import { verdictWord as word } from './verdicts';
import './Ledger.css';

type Props = { ledger: LedgerLine[]; hasKey: boolean; chosen?: number; onChoose: (step: number) => void };

export function Ledger({ ledger, hasKey, chosen, onChoose }: Props) {
  const instrument = useInstrument();
  // A long ledger rolls by itself, so that what stands around it stays where it is.
  const roll = useRef<HTMLDivElement>(null);
  useEffect(() => {
    roll.current?.querySelector('.chosen')?.scrollIntoView({ block: 'nearest' });
  }, [chosen, ledger.length]);
  if (ledger.length === 0) {
    return (
      <p className="quiet">No reading yet. Put both leads on test points, write what you expect, take the reading.</p>
    );
  }
  return (
    <div className="roll" ref={roll} tabIndex={0} role="group" aria-label="All readings">
      <table className="ledger">
        <thead>
          <tr>
            <th>#</th>
            <th>red · black</th>
            <th className="number">expected</th>
            <th className="number">read</th>
            <th>verdict</th>
          </tr>
        </thead>
        <tbody>
          {ledger.map((l, n) => (
            <Fragment key={l.step}>
              {l.state !== ledger[n - 1]?.state && (
                <tr className="state-row">
                  <td colSpan={5} title={l.state}>
                    {stateInWords(l.state, hasKey)}
                  </td>
                </tr>
              )}
              <tr
                className={l.step === chosen ? 'chosen' : undefined}
                onClick={() => onChoose(l.step)}
                aria-selected={l.step === chosen}
              >
                <td className="mono quiet">{l.step}</td>
                <td className="place">
                  {l.red ? <Named id={l.red} /> : '–'} ·{' '}
                  {l.black ? (
                    <Named id={l.black} />
                  ) : instrument(l.function).put_on === 'points' ? (
                    '–'
                  ) : (
                    instrument(l.function).label.toLowerCase()
                  )}
                  {l.concluded.length > 0 && <div className="concluded">{l.concluded.join(' · ')}</div>}
                  {l.by_partner && <div className="note">taken by your partner</div>}
                  {l.note && <div className="note">{l.note}</div>}
                </td>
                <td className="number">
                  {l.expected ?? ''}
                  {l.supposing && (
                    <div className="note">
                      with {l.supposing.place} {l.supposing.mode.replaceAll('_', ' ')}
                    </div>
                  )}
                  {l.partner?.expected && <div className="note">partner {l.partner.expected}</div>}
                </td>
                <td className={figure(l.shown.text)}>
                  {l.shown.text} {l.shown.unit}
                </td>
                <td className={l.verdict === 'normal' ? 'good' : l.verdict ? 'bad' : 'quiet'}>
                  {l.first_verdict && l.first_verdict !== l.verdict && (
                    <s className="quiet" title="your first verdict stays on record">
                      {word(l.first_verdict)}{' '}
                    </s>
                  )}
                  {word(l.verdict)}
                  {l.partner?.verdict && <div className="note">partner: {word(l.partner.verdict)}</div>}
                </td>
              </tr>
            </Fragment>
          ))}
        </tbody>
      </table>
    </div>
  );
}
