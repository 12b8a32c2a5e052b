// What a fault that is not set yet would change: the reading that tells most of it.
import { Button } from 'antd';

import type { FaultBenchView } from '../../api/client';
import { useInstrument } from '../../app/instruments';
import { Named } from '../../diagram/chosen';

type Props = { view?: FaultBenchView; error?: string; onAgain: () => void };

export function Told({ view, error, onAgain }: Props) {
  const instrument = useInstrument();
  if (error) {
    return (
      <>
        {error}{' '}
        <Button size="small" onClick={onAgain}>
          Try again
        </Button>
      </>
    );
  }
  if (!view) return 'Computing …';
  const telling = view.key.filter((r) => r.tells).sort((a, b) => b.apart - a.apart);
  const here = telling.find((r) => r.state === view.state.about) ?? telling[0];
  if (!here) return 'No reading changes.';
  return (
    <>
      {!instrument(here.function).is_dc_volts && `${instrument(here.function).label} `}
      <Named id={here.red} />
      {here.black && (
        <>
          {' · '}
          <Named id={here.black} />
        </>
      )}{' '}
      {here.healthy.text} → <b className="bad">{here.faulted.text}</b> {here.faulted.unit}
      {here.state !== view.state.about && ` (${here.state})`} · {view.symptom}
    </>
  );
}
