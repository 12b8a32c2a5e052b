// What the student expects to read, of a healthy circuit or with a fault that is held suspect.
import { forwardRef } from 'react';

import type { AttemptView, Supposed } from '../../../api/client';
import './Expectation.css';

type Props = {
  id: string;
  /** The key that leads here. */
  shortcut: string;
  attempt: AttemptView;
  hint: string;
  text: string;
  onText: (text: string) => void;
  onFocus?: () => void;
  supposing: Supposed | null;
  onSuppose: (fault: Supposed | null) => void;
};

export const Expectation = forwardRef<HTMLInputElement, Props>(function Expectation(props, ref) {
  return (
    <label>
      <span className="field-label">
        <Supposition {...props} /> <kbd>{props.shortcut}</kbd>
      </span>
      <input
        ref={ref}
        id={props.id}
        className="text-field"
        value={props.text}
        placeholder={props.hint}
        autoComplete="off"
        disabled={props.attempt.bench.handed_in}
        onFocus={props.onFocus}
        onChange={(e) => props.onText(e.target.value)}
        onKeyDown={(e) => e.key === 'Escape' && e.currentTarget.blur()}
      />
    </label>
  );
});

/** What the expectation is of. */
function Supposition({ attempt, supposing, onSuppose }: Props) {
  const suspects = attempt.places.filter((p) => attempt.bench.suspected.includes(p.id));
  if (suspects.length === 0) return 'Expected, good circuit';
  const faults = suspects.flatMap((p) => p.modes.map((m) => ({ place: p.id, mode: m.mode })));
  const chosen = faults.findIndex((f) => f.place === supposing?.place && f.mode === supposing.mode);
  return (
    <select
      aria-label="What is expected is of"
      className={chosen < 0 ? 'more supposition' : 'more chosen supposition'}
      value={chosen}
      onChange={(e) => onSuppose(faults[Number(e.target.value)] ?? null)}
    >
      <option value={-1}>Expected, good circuit</option>
      {faults.map((f, n) => (
        <option key={`${f.place} ${f.mode}`} value={n}>
          With {f.place} {f.mode.replaceAll('_', ' ')}
        </option>
      ))}
    </select>
  );
}
