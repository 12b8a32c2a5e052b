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
      <select
        aria-label={`How a healthy ${name} goes`}
        value={said.form ?? ''}
        onChange={(e) => onSay({ form: e.target.value as Looks['form'] })}
      >
        <option value="" disabled>
          goes …
        </option>
        {FORMS.map(([form, text]) => (
          <option key={form} value={form}>
            {text}
          </option>
        ))}
      </select>{' '}
      <select
        aria-label={`How far a healthy ${name} goes`}
        value={said.peak ?? ''}
        onChange={(e) => onSay({ peak: e.target.value as Looks['peak'] })}
      >
        <option value="" disabled>
          as far as …
        </option>
        {PEAKS.map((peak) => (
          <option key={peak} value={peak}>
            {peak} {unit}
          </option>
        ))}
      </select>{' '}
      <select
        aria-label={`How often a healthy ${name} pulses`}
        value={said.often ?? ''}
        onChange={(e) => onSay({ often: e.target.value as Said['often'] })}
      >
        <option value="" disabled>
          pulses …
        </option>
        {OFTEN.map((often) => (
          <option key={often}>{often}</option>
        ))}
      </select>
    </>
  );
}
