// Two at one bench: what one asks the machine waits until the other has written what they expect of it.
import { useQueryClient } from '@tanstack/react-query';
import { Button } from 'antd';
import { useState, type FormEvent, type RefObject } from 'react';

import {
  api,
  ApiError,
  ask,
  sentenceOf,
  type Action,
  type AttemptView,
  type Schemas,
  type Supposed,
} from '../../api/client';
import { useInstrument } from '../../app/instruments';
import { SayLooks, whole, type Said } from '../../scope/SayLooks';
import { changed } from './changes';
import { Expectation } from './meter/Expectation';
import './Strip.css';
import { newKey } from './useBench';

type Props = {
  id: number;
  attempt: AttemptView;
  partner: string;
  asked: Schemas['AskedView'];
  /** Where one answers. */
  form: RefObject<HTMLFormElement | null>;
};

export function Asked({ id, attempt, partner, asked, form }: Props) {
  const [error, setError] = useState('');
  const what = useAsked(attempt, asked.action);
  const takeBack = async () => {
    setError('');
    try {
      await ask(api.DELETE('/api/attempts/{id}/asked', { params: { path: { id } } }));
    } catch (e) {
      setError(sentenceOf(e));
    }
  };
  return (
    <section className="strip asked" aria-label="Asked of two">
      <p className="tight" role="status">
        {asked.own ? (
          <>
            You asked for <b>{what}</b>. It is taken once {partner} has written what they expect.
          </>
        ) : (
          <>
            <b>
              {partner} asks for {what}.
            </b>{' '}
            What do you expect?
          </>
        )}
      </p>
      {!asked.own && (
        <Answer
          key={JSON.stringify(asked.action)}
          id={id}
          attempt={attempt}
          action={asked.action}
          form={form}
          onError={setError}
        />
      )}
      <Button onClick={() => void takeBack()}>{asked.own ? 'Take it back' : 'Not now'}</Button>
      {error && (
        <p className="error-line" role="alert">
          {error}
        </p>
      )}
    </section>
  );
}

/** What is asked, in words. */
function useAsked(attempt: AttemptView, action: Action): string {
  const instrument = useInstrument();
  if (action.do === 'take_reading') {
    const { label } = instrument(action.function);
    const ends = [action.red && `red on ${action.red}`, action.black && `black on ${action.black}`];
    return [label, ...ends.filter(Boolean)].join(', ');
  }
  if (action.do === 'capture') return `a screen of ${action.scope.channels.map(nameOf).join(', ')}`;
  return attempt.title;
}

type Channel = Extract<Action, { do: 'capture' }>['scope']['channels'][number];

function nameOf(channel: Channel): string {
  if (channel.with === 'pickup') return `the pickup round ${channel.lead}`;
  return channel.with === 'clamp' ? `the clamp round ${channel.wire}` : channel.red;
}

type AnswerProps = {
  id: number;
  attempt: AttemptView;
  action: Action;
  form: Props['form'];
  onError: (sentence: string) => void;
};

function Answer({ id, attempt, action, form, onError }: AnswerProps) {
  const queries = useQueryClient();
  const instrument = useInstrument();
  const [expected, setExpected] = useState('');
  const [supposing, setSupposing] = useState<Supposed | null>(null);
  const [said, setSaid] = useState<Said[]>([]);
  const [request] = useState(newKey);
  const [busy, setBusy] = useState(false);
  const channels = action.do === 'capture' ? action.scope.channels : [];
  const looks = channels.flatMap((_, n) => whole(said[n] ?? {}) ?? []);
  const ready = action.do === 'capture' ? looks.length === channels.length : expected.trim() !== '';
  const answer = async (e: FormEvent) => {
    e.preventDefault();
    if (!ready || busy) return;
    onError('');
    setBusy(true);
    try {
      const after = attempt.bench.steps;
      const expects = action.do === 'capture' ? { looks } : { expected, supposing };
      const bench = await ask(
        api.POST('/api/attempts/{id}/asked', { params: { path: { id } }, body: { after, request, expects } }),
      );
      queries.setQueryData<AttemptView>(['attempt', id], (old) =>
        old && old.bench.steps === after ? { ...old, bench: changed(old.bench, bench) } : old,
      );
    } catch (e) {
      onError(sentenceOf(e));
      // Somebody has gone on meanwhile.
      if (e instanceof ApiError && e.status === 409) void queries.invalidateQueries({ queryKey: ['attempt', id] });
    }
    setBusy(false);
  };
  return (
    <form className="row" ref={form} onSubmit={(e) => void answer(e)}>
      {action.do === 'capture' ? (
        <div className="looks">
          {channels.map((channel, n) => (
            <span key={nameOf(channel)}>
              {n + 1}{' '}
              <SayLooks
                name={nameOf(channel)}
                unit={channel.with === 'clamp' ? 'A' : 'V'}
                said={said[n] ?? {}}
                onSay={(more) =>
                  setSaid((old) => channels.map((_, k) => (k === n ? { ...old[k], ...more } : (old[k] ?? {}))))
                }
              />
            </span>
          ))}
        </div>
      ) : (
        <Expectation
          id="asked-expected"
          shortcut="A"
          attempt={attempt}
          hint={action.do === 'take_reading' ? instrument(action.function).hint : ''}
          text={expected}
          onText={setExpected}
          supposing={supposing}
          onSuppose={setSupposing}
        />
      )}
      <Button type="primary" htmlType="submit" disabled={!ready} loading={busy}>
        Take it
      </Button>
    </form>
  );
}
