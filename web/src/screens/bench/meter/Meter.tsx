// The meter: function, display, leads, expectation, verdict.
import { Button } from 'antd';
import { forwardRef, useImperativeHandle, useRef, type Dispatch } from 'react';

import type { AttemptView, Instrument, LedgerLine, MeterFunction, Verdict } from '../../../api/client';
import { useInstrument } from '../../../app/instruments';
import { VERDICTS } from '../verdicts';
import { Display } from './Display';
import { Expectation } from './Expectation';
import { Functions } from './Functions';
import { Lead } from './Lead';
import type { MeterEvent, MeterState } from './state';
import '../verdicts.css';

export type MeterHandle = { focus: (what: 'red' | 'black' | 'expected') => void };

type Props = {
  attempt: AttemptView;
  /** The instruments of this lesson. */
  instruments: Instrument[];
  meter: MeterState;
  send: Dispatch<MeterEvent>;
  /** Test points of the path in view. */
  path: string[];
  onFunction: (fn: MeterFunction) => void;
  onRead: () => void;
  /** The reading to judge. */
  line?: LedgerLine;
  onJudge: (verdict: Verdict) => void;
  busy: boolean;
};

export const Meter = forwardRef<MeterHandle, Props>(function Meter(props, handle) {
  const { attempt, meter, send, line } = props;
  const red = useRef<HTMLInputElement>(null);
  const black = useRef<HTMLInputElement>(null);
  const expected = useRef<HTMLInputElement>(null);
  const take = useRef<HTMLButtonElement>(null);
  // Once the leads are on: the expectation, or the reading itself where none is asked for.
  const leadsOn = () => (expected.current ?? take.current)?.focus();
  const enter = (field: HTMLInputElement | null) => {
    field?.focus();
    field?.select();
  };
  useImperativeHandle(handle, () => ({
    focus: (what) => {
      const field = { red, black, expected }[what].current;
      // Where nothing is expected, the reading itself is next.
      if (what === 'expected' && !field) take.current?.focus();
      else enter(field);
    },
  }));
  const instrument = useInstrument();
  const chosen = instrument(meter.fn);
  const single = chosen.put_on !== 'points';
  const closed = attempt.bench.handed_in;
  const wants = missing(attempt, meter, single);
  const shown = line?.step === meter.shown ? line : undefined;
  return (
    <section aria-label="Meter" className="in-meter">
      <Functions
        attempt={attempt}
        instruments={props.instruments}
        chosen={chosen}
        onChoose={props.onFunction}
        setting={meter.setting}
        onSetting={(setting) => send({ do: 'adjust', setting })}
        leads={meter.leads}
        touch={meter.touch}
        onTouch={(touch) => send({ do: 'touch', touch })}
      />
      <Display chosen={chosen} line={shown} taken={shown && instrument(shown.function)} />
      <div className="leads">
        <Lead
          ref={red}
          which="red"
          attempt={attempt}
          instrument={chosen}
          point={meter.leads.red}
          active={meter.active === 'red'}
          onPut={(point) => send({ do: 'put', lead: 'red', point })}
          onActive={() => send({ do: 'activate', lead: 'red' })}
          path={props.path}
          onDone={() => (single ? leadsOn() : enter(black.current))}
        />
        <Lead
          ref={black}
          which="black"
          attempt={attempt}
          instrument={chosen}
          point={meter.leads.black}
          active={meter.active === 'black'}
          onPut={(point) => send({ do: 'put', lead: 'black', point })}
          onActive={() => send({ do: 'activate', lead: 'black' })}
          path={props.path}
          onDone={leadsOn}
        />
      </div>
      <form
        className="row take"
        onSubmit={(e) => {
          e.preventDefault();
          if (!wants && !props.busy && !closed) props.onRead();
        }}
      >
        {attempt.predictions && (
          <Expectation
            ref={expected}
            id="expected"
            shortcut="E"
            attempt={attempt}
            hint={chosen.hint}
            text={meter.expected}
            onText={(text) => send({ do: 'expect', text })}
            onFocus={() => send({ do: 'activate', lead: null })}
            supposing={meter.supposing}
            onSuppose={(fault) => send({ do: 'suppose', fault })}
          />
        )}
        <span className="taking">
          {/* Why it cannot be taken yet, in place. */}
          <span className="field-label wants">{wants && !closed ? wants : ' '}</span>
          <Button
            id="take-reading"
            ref={take}
            type="primary"
            htmlType="submit"
            disabled={!!wants || closed}
            loading={props.busy}
            title={wants}
          >
            Take reading ⏎
          </Button>
        </span>
      </form>
      {!attempt.sheet && !attempt.build && (
        <div className="judging">
          <span className="field-label">{line ? `The reading of step ${line.step} is` : 'This reading is'}</span>
          <div className="verdicts" role="group" aria-label="Verdict">
            {VERDICTS.map(([v, text], n) => (
              <button
                key={v}
                type="button"
                aria-pressed={line?.verdict === v}
                disabled={!line || closed}
                onClick={() => props.onJudge(v)}
                title={`key ${n + 1}`}
              >
                {text}
              </button>
            ))}
          </div>
        </div>
      )}
    </section>
  );
});

/** What is missing before a reading can be taken; nothing when it can. */
function missing(attempt: AttemptView, meter: MeterState, single: boolean): string | undefined {
  if (meter.leads.red === '') return single ? 'say what it is put on' : 'the red lead is on nothing';
  if (!single && meter.leads.black === '') return 'the black lead is on nothing';
  if (attempt.predictions && meter.expected.trim() === '') return 'first write what it should read';
  return undefined;
}
