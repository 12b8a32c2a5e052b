// Something that the server works out: how far it is, told as it goes on.
import { Button, Progress } from 'antd';
import { useEffect, useEffectEvent, useState } from 'react';

import { api, ask, type Schemas } from '../api/client';
import './Waiting.css';

export type Waiting = Schemas['Waiting'];

/** Whether an answer says how far something is, in place of the thing itself. */
export function isWaiting(answer: unknown): answer is Waiting {
  return typeof answer === 'object' && answer !== null && 'share' in answer && 'ahead' in answer;
}

/** "about 12 s", "about 3 min". */
export function about(seconds: number): string {
  return seconds < 90 ? `about ${Math.max(1, Math.round(seconds))} s` : `about ${Math.round(seconds / 60)} min`;
}

const begins = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);

/** What is being done, in a sentence. */
export function sentence(now: Waiting): string {
  if (now.state === 'failed') return begins(now.detail ?? 'it could not be worked out');
  if (now.state === 'queued') {
    return now.ahead === 0 ? 'It is next.' : `${now.ahead} ${now.ahead === 1 ? 'thing is' : 'things are'} before it.`;
  }
  const left = typeof now.left_s === 'number' ? `, ${about(now.left_s)} left` : '';
  const doing = begins(now.about === '' ? 'working' : now.about);
  return `${doing}${left} …`;
}

/** Stops what an attempt's marks wait for; whoever waits is told so by the events. */
export const stopMarking = (id: number) => ask(api.DELETE('/api/attempts/{id}/waiting', { params: { path: { id } } }));

type Props = {
  what: string;
  /** Where the server tells how far it is. */
  events: string;
  first: Waiting;
  /** It is there now. */
  onDone: () => void;
  /** Stops it, for those who may. */
  onStop?: () => void;
  /** Asks for it anew, where it has failed. */
  onAgain?: () => void;
};

export function WaitingFor({ what, events, first, onDone, onStop, onAgain }: Props) {
  const [now, setNow] = useState(first);
  const done = useEffectEvent(onDone);
  useEffect(() => {
    const source = new EventSource(events);
    source.onmessage = (message: MessageEvent<string>) => {
      const told = JSON.parse(message.data) as Waiting;
      setNow(told);
      if (told.state === 'done' || told.state === 'failed') source.close();
      if (told.state === 'done') done();
    };
    return () => source.close();
  }, [events]);
  const failed = now.state === 'failed';
  return (
    <div className="waiting" role={failed ? 'alert' : 'status'}>
      <p className="tight">
        <b>{what}</b> <span className={failed ? 'bad' : 'quiet'}>{sentence(now)}</span>
      </p>
      {!failed && <Progress percent={Math.round(100 * now.share)} status="active" aria-label={what} />}
      {!failed && onStop && (
        <Button size="small" onClick={onStop}>
          Stop
        </Button>
      )}
      {failed && onAgain && (
        <Button size="small" onClick={onAgain}>
          Begin anew
        </Button>
      )}
    </div>
  );
}
