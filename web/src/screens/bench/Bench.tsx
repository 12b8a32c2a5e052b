// The student's bench: an attempt at a lesson's machine.
import { useCallback, useEffect, useMemo, useReducer, useRef, useState } from 'react';
import { flushSync } from 'react-dom';
import { useParams } from 'react-router';

import type { AttemptView, Instrument, MeterFunction, Verdict } from '../../api/client';
import { useInstrument, useInstruments } from '../../app/instruments';
import { Shell } from '../../app/Shell';
import { useStable } from '../../app/useStable';
import { ChosenPlace } from '../../diagram/chosen';
import { Before } from './Before';
import { Conclude } from './Conclude';
import { Conclusion } from './Conclusion';
import { Experiments } from './Experiments';
import { Asked } from './Asked';
import { FirstMinute } from './FirstMinute';
import { FromTheFront } from './FromTheFront';
import { Hints } from './Hints';
import { KeyList } from './KeyList';
import { around, useKeys, type Doings } from './keys';
import { useCorrections } from './useCorrections';
import { Ledger } from './Ledger';
import { levers, Machine, type MachineHandle } from './Machine';
import { MachinePane } from './MachinePane';
import { goesInside } from './meter/Functions';
import { Meter, type MeterHandle } from './meter/Meter';
import { freshMeter, meterReducer } from './meter/state';
import { NoteField } from './NoteField';
import { PathPane } from './PathPane';
import { PlaceDoings } from './PlaceDoings';
import { SketchAt } from './SketchAt';
import { useSketch } from './useSketch';
import { ScopePane } from './ScopePane';
import { passedTo, readMarks, stairPoints } from './stairs';
import { Suspicions, type SuspicionsHandle } from './Suspicions';
import { TestSheet, type TestSheetHandle } from './TestSheet';
import { Unmarked } from './Unmarked';
import { Wiring, type WiringHandle } from './Wiring';
import { useBench, type AtWork } from './useBench';
import { OnPaper } from './OnPaper';
import { useHandIn } from './useHandIn';
import { useHeard } from './useHeard';
import { useSounds } from './useSounds';
import { SCREEN_VERDICTS, VERDICTS } from './verdicts';
import { Views, type ViewName } from './Views';
import { WorkOrder } from './WorkOrder';
import './Bench.css';
import './layout.css';
import './Views.css';

export default function Bench() {
  const id = Number(useParams().id);
  const bench = useBench(id);
  const [begun, setBegun] = useState(false);
  const { data } = bench.attempt;
  // What was loaded stays, should it be lost for a while what it is now.
  if (bench.attempt.error && !data) return <p className="page error-line">{bench.attempt.error.message}</p>;
  if (!data) return <p className="page quiet">Bringing the machine in …</p>;
  if (data.intro && data.own && data.bench.steps === 0 && !begun) {
    return <Before attempt={data} intro={data.intro} onBegin={() => setBegun(true)} />;
  }
  const Sheet = data.asked.length > 0 ? OnPaper : Work;
  return (
    <ChosenPlace drawing={data.drawing}>
      <Sheet key={id} id={id} attempt={data} act={bench.act} busy={bench.busy} error={bench.error} />
    </ChosenPlace>
  );
}

/** The view of a narrow screen in which something that takes the focus is. */
function viewOf(what: Parameters<Doings['focus']>[0]): ViewName {
  if (what === 'machine' || what === 'places') return 'reasoning';
  return what === 'note' ? 'readings' : 'meter';
}

/** How far the reasoning is, in a word or two. */
function reasoned({ sheet, build, purpose, bench }: AttemptView): string {
  if (build) return `${(bench.wires?.length ?? 0) - build.given.length} put in`;
  if (sheet) return `${bench.entered?.length ?? 0} of ${sheet.rows.length} entered`;
  return purpose === 'tools' ? 'to try' : `${bench.cleared.length} ruled out`;
}

/** The lesson's instruments that are of use on its machine: a scan tool needs a module, a clip a lead. */
function useUsefulInstruments(attempt: AttemptView): Instrument[] {
  const all = useInstruments();
  return useMemo(() => {
    const { functions, modules, drawing } = attempt;
    const isOfUse = (i: Instrument) => {
      if (i.put_on === 'module' || i.put_on === 'pin') return modules.length > 0;
      return i.put_on !== 'ignition_lead' || drawing.leads.length > 0;
    };
    return all.filter((i) => functions.includes(i.function) && isOfUse(i));
  }, [all, attempt]);
}

function Work({ id, attempt, act, busy, error }: AtWork) {
  const view = attempt.bench;
  const { drawing, sheet, build } = attempt;
  const practising = attempt.purpose === 'practice' && !sheet && !build;
  const wrong = useCorrections(id, practising);
  const negative = drawing.negative ?? '';
  const instruments = useUsefulInstruments(attempt);
  const instrument = useInstrument();
  const first = sheet?.function ?? instruments[0]?.function ?? 'dc_volts';
  const [meter, send] = useReducer(meterReducer, freshMeter(first, negative));
  const [judging, setJudging] = useState<number>();
  const [pathAt, setPathAt] = useState(0);
  const [places, setPlaces] = useState<string[]>([]);
  const [concluding, setConcluding] = useState<'name' | 'repair' | null>(null);
  const [help, setHelp] = useState(false);
  const [scope, setScope] = useState(view.captures.length > 0);
  const [byHand, setByHand] = useState(false);
  const [shown, setShown] = useState<ViewName>('machine');
  const meterField = useRef<MeterHandle>(null);
  const machineField = useRef<MachineHandle>(null);
  const placesField = useRef<SuspicionsHandle>(null);
  const sheetField = useRef<TestSheetHandle>(null);
  const wiringField = useRef<WiringHandle>(null);
  // What lies on the table has no path, and nothing but leads where none has a name.
  const laidOut = !!sheet && !sheet.state;
  const unmarked = !!sheet && sheet.leads.length > 0;
  const noteField = useRef<HTMLInputElement>(null);
  const facesButton = useRef<HTMLButtonElement>(null);
  const askButton = useRef<HTMLButtonElement>(null);
  const binderButton = useRef<HTMLButtonElement>(null);
  const answerForm = useRef<HTMLFormElement>(null);

  useSounds(view);
  const heard = useHeard(id, attempt.own && attempt.in_class, view.steps);
  // What a partner took, or what one asked and they have answered, is what one looks at.
  const last = view.ledger.at(-1);
  const [latest, byPartner, paired] = [last?.step, last?.by_partner, !!attempt.partner];
  useEffect(() => {
    if (!paired || latest === undefined) return;
    setJudging(latest);
    send({ do: byPartner ? 'show' : 'taken', step: latest });
  }, [paired, latest, byPartner]);

  // A machine that stands otherwise shows otherwise: what the display shows is of before.
  useEffect(() => send({ do: 'blank' }), [view.state]);

  const line = view.ledger.find((l) => l.step === judging) ?? view.ledger.at(-1);
  const path = attempt.paths[pathAt];
  // Without a diagram there is no path to follow, only what has been read.
  const stops = useMemo(
    () =>
      path?.stops.filter((s) => s.reachable).map((s) => s.point) ?? [
        ...new Set(view.ledger.flatMap((l) => l.red ?? [])),
      ],
    [path, view.ledger],
  );
  const stairs = useMemo(() => {
    const passed = passedTo(path, view, new Set(attempt.places.map((p) => p.id)));
    const read = stairPoints(stops, view.ledger, { state: view.state, negative, instrument });
    return read.map((p, n) => ({ ...p, passed: passed[n] }));
  }, [path, stops, view, attempt.places, negative, instrument]);
  const marks = useMemo(() => {
    const out = readMarks(view.ledger, { state: view.state, negative, instrument }, drawing.system_v);
    const { black, red } = meter.leads;
    if (black) out[black] = { ...out[black], lead: 'black' };
    if (red) out[red] = { ...out[red], lead: 'red' };
    return out;
  }, [meter.leads, view.ledger, view.state, negative, instrument, drawing.system_v]);

  const setFunction = (fn: MeterFunction) =>
    send({ do: 'set', to: instrument(fn), from: instrument(meter.fn), modules: attempt.modules });
  const read = async () => {
    const chosen = instrument(meter.fn);
    const done = await act({
      do: 'take_reading',
      function: meter.fn,
      range: meter.setting ?? chosen.usual_setting ?? null,
      red: meter.leads.red || null,
      black: chosen.put_on === 'points' ? meter.leads.black || null : null,
      expected: attempt.predictions ? meter.expected : null,
      supposing: attempt.predictions ? meter.supposing : null,
      // What was chosen for the last connector does not concern a post.
      touch: goesInside(attempt, meter.leads) ? meter.touch : 'pin',
    });
    if (!done || done.came_to_nothing) return;
    (document.activeElement as HTMLElement | null)?.blur();
    // What a row is, is said next.
    sheetField.current?.focus([meter.leads.red, meter.leads.black]);
    // Of two, it is taken once the other has said what they expect.
    if (done.steps === view.steps) return;
    const step = done.ledger.at(-1)?.step;
    send({ do: 'taken', step });
    setJudging(step);
  };
  const choose = (step: number) => {
    setJudging(step);
    send({ do: 'show', step });
  };
  const judge = (verdict: Verdict) => {
    const step = scope ? view.captures.at(-1)?.step : line?.step;
    if (step !== undefined) void act({ do: 'judge', step, verdict });
  };
  const turn = (name: string | undefined, by: number) => {
    const control = view.controls.find((c) => c.name === name);
    const next = control && around(control.positions, control.positions.indexOf(control.position), by);
    if (control && next) void act({ do: 'set_control', control: control.name, position: next });
  };
  const openScope = (open: boolean) => {
    setScope(open);
    setByHand(open);
  };
  // A sheet is filled in: nothing is named, ruled out or mended.
  const ends = attempt.purpose !== 'tools';
  const finds = ends && !sheet && !build;
  const tryIt = () => void act({ do: 'try_complaint' });
  const end = useHandIn(id, attempt, act);
  const handIn = () => end();
  // Before the field in it gets the focus, which nothing hidden can have.
  const show = (view: ViewName) => flushSync(() => setShown(view));
  const doings: Doings = {
    focus: (what) => {
      show(viewOf(what));
      if (what === 'machine') machineField.current?.focus();
      else if (what === 'places') (sheetField.current ?? wiringField.current ?? placesField.current)?.focus();
      else if (what === 'note') noteField.current?.focus();
      else meterField.current?.focus(what);
    },
    nextFunction: () => {
      const at = instruments.findIndex((i) => i.function === meter.fn);
      const next = around(instruments, at, 1);
      if (next) setFunction(next.function);
    },
    turnKey: (by) => turn('key', by),
    nextLever: (nth) => turn(levers(view)[nth], 1),
    tryComplaint: () => !sheet && !build && tryIt(),
    nextPath: () => {
      show('readings');
      if (attempt.paths.length > 0) setPathAt((pathAt + 1) % attempt.paths.length);
    },
    toggleScope: () => {
      show('readings');
      if (attempt.scope) openScope(!scope);
    },
    faces: () => {
      show('machine');
      facesButton.current?.click();
    },
    ask: () => askButton.current?.click(),
    binder: () => binderButton.current?.click(),
    name: () => finds && setConcluding('name'),
    repair: () => finds && setConcluding('repair'),
    giveBack: () => {
      if (attempt.craft && view.repairs.length > 0) void act({ do: 'second_visit' });
    },
    handIn: () => ends && handIn(),
    answer: () => answerForm.current?.querySelector<HTMLElement>('input, select')?.focus(),
    hint: () => practising && void act('hint'),
    help: () => setHelp(true),
    judge: (nth) => {
      const verdict = (scope ? SCREEN_VERDICTS : VERDICTS)[nth];
      if (verdict) judge(verdict[0]);
    },
    chooseReading: (by) => {
      const at = view.ledger.findIndex((l) => l.step === line?.step);
      const next = view.ledger[Math.min(Math.max(at + by, 0), view.ledger.length - 1)];
      if (next) choose(next.step);
    },
  };
  useKeys(doings, !view.handed_in && concluding === null && !help);

  const toExpectation = () => setTimeout(() => meterField.current?.focus('expected'));
  const touchPlace = useStable((place: string) => {
    const on = instrument(meter.fn).put_on;
    const goes =
      on === 'wire'
        ? drawing.wires.some((w) => w.id === place)
        : on === 'ignition_lead' && drawing.leads.includes(place);
    if (!goes) return;
    send({ do: 'put', lead: 'red', point: place });
    toExpectation();
  });
  const touchPoint = useStable((point: string) => {
    const on = instrument(meter.fn).put_on;
    if (on !== 'points' && on !== 'pin') return;
    send({ do: 'point', point });
    toExpectation();
  });
  const leadTo = useStable((point: string) => send({ do: 'put', lead: 'red', point }));
  const putLead = useStable((lead: 'red' | 'black', point: string) => {
    send({ do: 'put', lead, point });
    if (lead === 'red') toExpectation();
  });
  // The leads onto both ends of a row, and the meter as the sheet wants it.
  const putLeads = useStable(([red = '', black = '']: string[]) => {
    if (sheet && meter.fn !== sheet.function) setFunction(sheet.function);
    send({ do: 'put', lead: 'red', point: red });
    send({ do: 'put', lead: 'black', point: black });
    show('meter');
    toExpectation();
  });
  const nameIt = useStable(() => setConcluding('name'));
  const onPoints = ['points', 'pin'].includes(instrument(meter.fn).put_on);
  const sketch = useSketch(attempt);
  const [marking, setMarking] = useState<string>();
  const doingsAt = useCallback(
    (place: string) => (
      <>
        <PlaceDoings
          attempt={attempt}
          place={place}
          finds={finds}
          path={pathAt}
          onBranch={setPlaces}
          onLead={onPoints ? putLead : undefined}
          onName={nameIt}
          onMark={attempt.own ? setMarking : undefined}
          act={act}
        />
      </>
    ),
    [attempt, finds, pathAt, onPoints, putLead, nameIt, act],
  );
  const chooseArea = useStable((framed: string[]) => {
    const known = framed.filter((id) => attempt.places.some((p) => p.id === id));
    setPlaces((old) => [...new Set([...old, ...known])]);
    if (known.length > 0) show('reasoning');
  });
  const choosePlace = useStable((place: string) => {
    setPlaces((old) => (old.includes(place) ? old : [...old, place]));
    show('reasoning');
    placesField.current?.focus();
  });

  return (
    <Shell
      crumbs={[{ text: 'Bench', to: '/attempts' }, { text: attempt.title }]}
      pills={ends ? [`${view.minutes.toFixed(0)} min at the machine`, `Step ${view.steps}`] : ['Try the tools']}
    >
      <FromTheFront attempt={id} heard={heard} />
      {attempt.first_minute && attempt.own && <FirstMinute key={id} attempt={attempt} meter={meter} />}
      {heard?.asked && !view.handed_in && (
        <Asked id={id} attempt={attempt} partner={heard.partner ?? ''} asked={heard.asked} form={answerForm} />
      )}
      <main className="bench" data-view={shown}>
        <div className={scope ? 'left scoped' : laidOut ? 'left laid-out' : 'left'}>
          <WorkOrder
            attempt={attempt}
            onMove={(control, position) => void act({ do: 'set_control', control, position })}
            onTry={tryIt}
            act={act}
            askButton={askButton}
            binderButton={binderButton}
          />
          {sheet && unmarked ? (
            <Unmarked attempt={attempt} sheet={sheet} marks={marks} onPoint={touchPoint} onLeads={putLeads} />
          ) : (
            <MachinePane
              attempt={attempt}
              marks={marks}
              onPlace={touchPlace}
              onPoint={touchPoint}
              onArea={finds && !view.handed_in ? chooseArea : undefined}
              doings={doingsAt}
              sketch={sketch.marks}
              facesButton={facesButton}
            />
          )}
          {laidOut ? null : scope ? (
            <ScopePane
              id={id}
              attempt={attempt}
              busy={busy}
              focused={byHand}
              act={act}
              onJudge={judge}
              onBack={() => setScope(false)}
            />
          ) : (
            <PathPane
              attempt={attempt}
              pathAt={pathAt}
              onPath={setPathAt}
              points={stairs}
              active={meter.leads.red}
              onPoint={leadTo}
              onPlace={view.handed_in || !finds ? undefined : choosePlace}
              onScope={() => openScope(true)}
            />
          )}
        </div>
        <div className="right footed">
          <div className="scroll">
            <Meter
              ref={meterField}
              attempt={attempt}
              instruments={instruments}
              meter={meter}
              send={send}
              path={stops}
              onFunction={setFunction}
              onRead={() => void read()}
              line={line}
              onJudge={judge}
              busy={busy}
            />
            {error && (
              <p className="error-line" role="alert" id="bench-error">
                {error.message}
              </p>
            )}
            {sheet && (
              <TestSheet
                ref={sheetField}
                attempt={attempt}
                sheet={sheet}
                leads={meter.leads}
                onLeads={putLeads}
                act={act}
              />
            )}
            {build && <Wiring ref={wiringField} attempt={attempt} build={build} act={act} busy={busy} />}
            <section aria-label="Readings" className="readings in-readings">
              <h2>Readings</h2>
              <Ledger
                ledger={view.ledger}
                hasKey={view.controls.some((c) => c.name === 'key')}
                chosen={line?.step}
                onChoose={choose}
              />
              <NoteField ref={noteField} line={line} closed={view.handed_in} act={act} />
            </section>
            {practising && <Hints view={view} busy={busy} onAsk={doings.hint} wrong={wrong} />}
            {attempt.purpose === 'tools' && <Experiments id={id} />}
            {finds && (
              <Suspicions
                ref={placesField}
                attempt={attempt}
                path={pathAt}
                chosen={places}
                onChoose={setPlaces}
                act={act}
              />
            )}
            {!unmarked && !build && <Machine ref={machineField} attempt={attempt} leads={meter.leads} act={act} />}
          </div>
          <Conclusion
            id={id}
            attempt={attempt}
            onName={doings.name}
            onRepair={doings.repair}
            onGiveBack={doings.giveBack}
            onHandIn={handIn}
            onHelp={doings.help}
          />
        </div>
        <Views
          shown={shown}
          onShow={setShown}
          leads={[meter.leads.red, meter.leads.black].filter(Boolean).join(' / ') || 'no lead on'}
          readings={view.ledger.length}
          reasoned={reasoned(attempt)}
          refusal={error?.message}
        />
      </main>
      <Conclude attempt={attempt} what={concluding} onClose={() => setConcluding(null)} act={act} />
      {marking && <SketchAt attempt={attempt} sketch={sketch} place={marking} onClose={() => setMarking(undefined)} />}
      <KeyList open={help} onClose={() => setHelp(false)} />
    </Shell>
  );
}
