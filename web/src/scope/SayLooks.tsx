// What a student says of a channel of the oscilloscope: how it goes, how far, and how often.
import type { Looks } from '../api/client';

const FORMS: [Looks['form'], string][] = [
  ['flat', 'stands still'],
  ['pulses', 'pulses to one side'],
  ['both_ways', 'swings both ways'],
];
const PEAKS: Looks['peak'][] = [
  'under 1',
  '1 to 20',
  '20 to 100',
  '100 to 600',
  '600 to 5000',
  '5000 to 15000',
  'over 15000',
];

const OFTEN: NonNullable<Looks['often']>[] = ['never', 'once', '2 to 4 times', '5 times or more'];

/** What is chosen of a channel so far. */
export type Said = { form?: Looks['form']; peak?: Looks['peak']; often?: Looks['often'] };

/** All of it, once it is. */
export function whole({ form, peak, often }: Said): Looks | undefined {
  return form && peak && often ? { form, peak, often } : undefined;
}

type Props = { name: string; unit: string; said: Said; onSay: (more: Said) => void };

export function SayLooks({ name, unit, said, onSay }: Props) {
  return (
    <>
      {name}{' '}
      <Choice
        label={`How a healthy ${name} goes`}
        empty="goes …"
        value={said.form}
        options={FORMS}
        onChoose={(form) => onSay({ form })}
      />{' '}
      <Choice
        label={`How far a healthy ${name} goes`}
        empty="as far as …"
        value={said.peak}
        options={PEAKS.map((peak) => [peak, `${peak} ${unit}`])}
        onChoose={(peak) => onSay({ peak })}
      />{' '}
      <Choice
        label={`How often a healthy ${name} pulses`}
        empty="pulses …"
        value={said.often ?? undefined}
        options={OFTEN.map((often) => [often, often])}
        onChoose={(often) => onSay({ often })}
      />
    </>
  );
}

type ChoiceProps<T extends string> = {
  label: string;
  /** What stands there as long as nothing is chosen. */
  empty: string;
  value?: T;
  options: [T, string][];
  onChoose: (value: T) => void;
};

function Choice<T extends string>({ label, empty, value, options, onChoose }: ChoiceProps<T>) {
  return (
    <select aria-label={label} value={value ?? ''} onChange={(e) => onChoose(e.target.value as T)}>
      <option value="" disabled>
        {empty}
      </option>
      {options.map(([option, text]) => (
        <option key={option} value={option}>
          {text}
        </option>
      ))}
    </select>
  );
}
