// What the students are asked for: the fault, readings that they predict, or a test sheet.
import { useQuery } from '@tanstack/react-query';
import { Button, Checkbox } from 'antd';
import { useMemo, useState } from 'react';

import { api, ask, type FaultDoc, type MeterFunction, type Schemas } from '../../api/client';
import { useInstrument } from '../../app/instruments';
import { ReasonMarks } from '../lessons/ReasonMarks';
import { Sheets, type SheetKind, type useSheets } from './Sheets';
import { ToBuild, type useBuild } from './ToBuild';
import './AskFor.css';

export type AskedFor = 'fault' | 'predictions' | 'build' | SheetKind;

export function sheetKind(asked: AskedFor): SheetKind | undefined {
  return asked === 'fault' || asked === 'predictions' || asked === 'build' ? undefined : asked;
}

/** So many are ticked at first. */
const AT_FIRST = 8;
/** Marks of 100 for the reasons, unless one says otherwise. */
const REASON_MARKS = 30;

type Proposed = Schemas['ProposedReading'];
type Machine = { circuit: number; version: number; faults: FaultDoc[]; functions: MeterFunction[] };

/** Readings worth asking for, and which of them are. */
export function usePredictions({ circuit, version, faults, functions }: Machine, wanted: boolean) {
  const found = useQuery({
    queryKey: ['predictions', circuit, version, faults, functions],
    queryFn: () =>
      ask(
        api.POST('/api/circuits/{id}/predictions', {
          params: { path: { id: circuit } },
          body: { version, faults, functions },
        }),
      ),
    enabled: wanted && functions.length > 0,
    staleTime: Infinity,
    retry: false,
  });
  const [chosen, setChosen] = useState<{ of: unknown; which: Set<number> }>();
  const [reasonMarks, setReasonMarks] = useState(REASON_MARKS);
  const readings = useMemo(() => found.data?.readings ?? [], [found.data]);
  const first = useMemo(() => new Set(readings.slice(0, AT_FIRST).keys()), [readings]);
  // What was ticked among other readings says nothing of these.
  const which = chosen && chosen.of === found.data ? chosen.which : first;
  const toggle = (n: number) => {
    const next = new Set(which);
    if (!next.delete(n)) next.add(n);
    setChosen({ of: found.data, which: next });
  };
  const asked = readings.filter((_, n) => which.has(n)).map((r) => r.asked);
  const task = { kind: 'predict' as const, ask: asked, reason_marks: reasonMarks };
  return { found, readings, which, toggle, reasonMarks, setReasonMarks, task };
}

type Props = {
  value: AskedFor;
  onChange: (value: AskedFor) => void;
  sound: boolean;
  predicting: ReturnType<typeof usePredictions>;
  filling: ReturnType<typeof useSheets>;
  building: ReturnType<typeof useBuild>;
};

export function AskFor({ value, onChange, sound, predicting, filling, building }: Props) {
  const { found, readings, which, toggle, reasonMarks, setReasonMarks } = predicting;
  return (
    <div>
      <label>
        <span className="field-label">The students are asked for</span>
        <select
          id="asked-for"
          className="more whole-width"
          value={value}
          onChange={(e) => onChange(e.target.value as AskedFor)}
        >
          <option value="fault">{sound ? 'no fault: a bench to work at' : 'the fault'}</option>
          <option value="predictions">readings, predicted on paper</option>
          <option value="surveys">a survey of drops: keep, clean, renew</option>
          <option value="checks">the check sheet of a harness off the machine</option>
          <option value="identify">what the leads of an unmarked plug are</option>
          <option value="build">its wiring: the machine is built</option>
        </select>
      </label>
      <Sheets {...filling} />
      {value === 'build' && <ToBuild {...building} sound={sound} />}
      {value === 'predictions' && (
        <>
          <p className="quiet tight">
            {sound
              ? 'The students are told that the machine is healthy.'
              : 'The students are told the fault, and say what the meter shows with it.'}{' '}
            {which.size} of {readings.length} readings are asked for.
          </p>
          {found.isFetching && <p className="quiet tight">Looking for readings worth asking …</p>}
          {found.error && (
            <p className="error-line" role="alert">
              {found.error.message}{' '}
              <Button size="small" onClick={() => void found.refetch()}>
                Try again
              </Button>
            </p>
          )}
          <ul className="proposed" aria-label="Readings to ask for">
            {readings.map((r, n) => (
              <li key={`${r.state} ${r.asked.function} ${r.asked.red} ${r.asked.black ?? ''}`}>
                <Checkbox checked={which.has(n)} onChange={() => toggle(n)}>
                  <Reading of={r} />
                </Checkbox>
              </li>
            ))}
          </ul>
          <ReasonMarks id="reason-marks" value={reasonMarks} onChange={setReasonMarks} />
        </>
      )}
    </div>
  );
}

function Reading({ of }: { of: Proposed }) {
  const instrument = useInstrument()(of.asked.function);
  return (
    <>
      {instrument.label}{' '}
      <span className="mono">
        {of.asked.red}
        {of.asked.black && ` → ${of.asked.black}`}
      </span>{' '}
      <span className="quiet">{of.state}</span>:{' '}
      <b className="mono">
        {of.shown.text} {of.shown.unit}
      </b>
      {of.reasons.length > 0 && <span className="quiet"> {of.reasons.join('; ')}</span>}
    </>
  );
}
