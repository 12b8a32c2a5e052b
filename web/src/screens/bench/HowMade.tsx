// How a repair is made: a choice for each question that the place asks.
import type { Schemas } from '../../api/client';
import './HowMade.css';

export type Choices = Record<string, string>;

type Props = {
  questions: Schemas['CraftQuestion'][];
  /** What the repair has to stand. */
  around: string;
  chosen: Choices;
  onChange: (chosen: Choices) => void;
};

/** What one is warned of before doing it so. */
const cautionOf = (options: Schemas['CraftChoice'][], word?: string) =>
  options.find((o) => o.word === word)?.caution ?? undefined;

export function HowMade({ questions, around, chosen, onChange }: Props) {
  return (
    <fieldset className="how-made">
      <legend className="quiet">Where it lies, {around}.</legend>
      {questions.map(({ word, asks, options }) => (
        <label key={word} className={cautionOf(options, chosen[word]) ? 'warned' : undefined}>
          <span className="field-label">{asks}</span>
          <select
            id={`craft-${word}`}
            className="more"
            value={chosen[word] ?? ''}
            onChange={(e) => onChange({ ...chosen, [word]: e.target.value })}
          >
            <option value="" disabled>
              choose …
            </option>
            {options.map((o) => (
              <option key={o.word} value={o.word}>
                {o.text}
              </option>
            ))}
          </select>
          {cautionOf(options, chosen[word]) && <small role="note">{cautionOf(options, chosen[word])}</small>}
        </label>
      ))}
    </fieldset>
  );
}
