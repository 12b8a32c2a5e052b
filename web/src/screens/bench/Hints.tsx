// Practice: what was wrong, said at once; and hints, from a question back to the student up to the next best
// measurement. Each hint costs minutes.
import { Button } from 'antd';

import type { BenchView, Schemas } from '../../api/client';
import './Hints.css';

type Props = { view: BenchView; busy: boolean; onAsk: () => void; wrong: Schemas['Corrected'][] };

export function Hints({ view, busy, onAsk, wrong }: Props) {
  return (
    <section aria-label="Hints" className="in-reasoning">
      <h2 className="row">
        Practice
        <Button size="small" id="hint" disabled={busy || view.handed_in} onClick={onAsk}>
          {busy ? 'Thinking …' : 'A hint'} <kbd>I</kbd>
        </Button>
        <span className="quiet light">1, 2, then 5 minutes</span>
      </h2>
      <ol className="hints" role="status" aria-label="What was wrong" id="corrections">
        {wrong
          .slice(-3)
          .reverse()
          .map((c) => (
            <li key={`${c.step} ${c.text}`} className="wrong">
              <span className="mono quiet">{c.step}</span> {c.text}
            </li>
          ))}
      </ol>
      <ol className="hints" role="status">
        {view.hints
          .slice(-3)
          .reverse()
          .map((h) => (
            <li key={h.step}>
              <span className="mono quiet">
                {h.step} · {h.minutes} min
              </span>{' '}
              {h.text}
            </li>
          ))}
      </ol>
    </section>
  );
}
