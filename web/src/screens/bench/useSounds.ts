// What is heard at the bench: what the machine begins to do, and a meter that beeps.
import { useEffect, useRef } from 'react';

import type { BenchView } from '../../api/client';
import { play, soundsOf } from '../../app/sound';

export function useSounds({ notices, ledger }: BenchView) {
  const before = useRef(notices);
  const last = ledger.at(-1);
  const [step, beeps] = [last?.step, last?.shown.beeps ?? false];
  const known = useRef(step);
  useEffect(() => {
    soundsOf(before.current, notices).forEach(play);
    before.current = notices;
  }, [notices]);
  useEffect(() => {
    if (step !== known.current && beeps) play('beep');
    known.current = step;
  }, [step, beeps]);
}
