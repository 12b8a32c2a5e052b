// The time that a lesson leaves, by the server's clock: shown here, kept there.
import { useEffect, useState } from 'react';

type Props = { leftS: number; began: boolean };

export function TimeLeft({ leftS, began }: Props) {
  const [spent, setSpent] = useState(0);
  useEffect(() => {
    if (!began) return undefined;
    const start = Date.now();
    const tick = setInterval(() => setSpent((Date.now() - start) / 1000), 1000);
    return () => clearInterval(tick);
  }, [began, leftS]);
  const left = Math.max(0, leftS - spent);
  const over = began && left === 0;
  const minutes = Math.floor(left / 60);
  const seconds = Math.floor(left % 60);
  return (
    <span role="timer" className={left < 120 ? 'bad' : undefined}>
      {over ? 'The time is over: hand in' : `${minutes}:${String(seconds).padStart(2, '0')} left`}
    </span>
  );
}
