// What a student may make of a reading or of a screen.
import type { Verdict } from '../../api/client';

export const VERDICTS: [Verdict, string][] = [
  ['normal', 'normal'],
  ['borderline', 'borderline'],
  ['too_low', 'too low'],
  ['too_high', 'too high'],
  ['tells_nothing', 'inconclusive'],
];

export const SCREEN_VERDICTS: [Verdict, string][] = [
  ['normal', 'normal'],
  ['abnormal', 'not normal'],
  ['tells_nothing', 'inconclusive'],
];

/** The word of a verdict; a question mark where there is none yet. */
export function verdictWord(verdict: Verdict | null | undefined): string {
  return VERDICTS.find(([v]) => v === verdict)?.[1] ?? '?';
}
