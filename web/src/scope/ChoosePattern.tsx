// What a channel will show, chosen among pictures: the healthy one, and what faults would make.
import type { Looks, Schemas } from '../api/client';
import './ChoosePattern.css';

type Pattern = Schemas['Pattern'];
type Props = { of: Schemas['Patterns']; chosen?: Looks; onChoose: (looks: Looks) => void };

const WIDTH = 112;
const HEIGHT = 46;
const EDGE = 4;

export const same = (a: Looks | undefined, b: Looks) =>
  !!a && a.form === b.form && a.peak === b.peak && a.often === b.often;

/** A band from least to most of each column; what stands still is a line where zero is the foot. */
export function band(columns: number[][]): string {
  const all = columns.flat();
  const [least, most] = [Math.min(0, ...all), Math.max(0, ...all)];
  const y = (v: number) => EDGE + ((most - v) / (most - least || 1)) * (HEIGHT - 2 * EDGE);
  const x = (n: number) => (n / Math.max(columns.length - 1, 1)) * WIDTH;
  const at = (n: number, v: number) => `${x(n).toFixed(1)},${y(v).toFixed(1)}`;
  const up = columns.map((c, n) => at(n, c[1] ?? 0));
  const down = columns.map((c, n) => at(n, c[0] ?? 0)).reverse();
  return [...up, ...down].join(' ');
}

export function ChoosePattern({ of, chosen, onChoose }: Props) {
  return (
    <div role="radiogroup" aria-label={`What a healthy ${of.name} shows`} className="patterns">
      {of.patterns.map((pattern) => (
        <label key={pattern.says} className="pattern">
          <input
            type="radio"
            name={`pattern ${of.name}`}
            checked={same(chosen, pattern.looks)}
            onChange={() => onChoose(pattern.looks)}
          />
          <Picture of={pattern} />
          <b className="mono">{pattern.reaches}</b>
          <span>{pattern.says}</span>
        </label>
      ))}
    </div>
  );
}

function Picture({ of }: { of: Pattern }) {
  return (
    <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} aria-hidden="true">
      <polygon points={band(of.columns)} />
    </svg>
  );
}
