// The student's bench.
import { App, Button, Modal, Segmented } from 'antd';
import { useMemo, useRef, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';

import type { AttemptView, LedgerLine, MeterFunction, Supposed, Touch, Verdict } from '../../api/client';
import { Shell } from '../../app/Shell';
import { useStable } from '../../app/useStable';
import { Controls as ScopeControls } from '../../scope/Controls';
import { Shot } from '../../scope/Shot';
import { Diagram, type PointMark } from '../../diagram/Diagram';
import { Faces } from '../../diagram/Faces';
import { Staircase, type StairPoint } from '../../staircase/Staircase';
import { Conclude } from './Conclude';
import { Experiments } from './Experiments';
import { Hints } from './Hints';
import { KEYS, useKeys } from './keys';
import { Ledger } from './Ledger';
import { isAtHand, Machine } from './Machine';
import { goesInside, Meter, ON_LEADS, ONE_LEAD, USUAL_SETTING, VERDICTS, type Leads, type MeterHandle } from './Meter';
import { NoteField } from './NoteField';
import { HealthySheets, PointList } from './Papers';
import { Suspicions } from './Suspicions';
import { TimeLeft } from './TimeLeft';
import { useBench } from './useBench';

const SCREEN_VERDICTS: [Verdict, string][] = [
  ['normal', 'normal'],
  ['abnormal', 'not normal'],
  ['tells_nothing', 'not telling'],
];

export default function Bench() {
  const id = Number(useParams().id);
  const bench = useBench(id);
  if (bench.attempt.error) return <p className="page error-line">{bench.attempt.error.message}</p>;
  if (!bench.attempt.data) return <p className="page quiet">Bringing the machine in …</p>;
  return <Work id={id} attempt={bench.attempt.data} act={bench.act} busy={bench.busy} error={bench.error} />;
}

type WorkProps = {
  id: number;
  attempt: AttemptView;
  act: ReturnType<typeof useBench>['act'];
  busy: boolean;
  error: Error | null;
};

function Work({ id, attempt: given, act, busy, error }: WorkProps) {
  // A scan tool is of use only where there is a module to ask, a spark tester where there are sparks.
  const attempt = useMemo(() => {
    const modules = given.modules.length > 0;
    const sparks = given.drawing.leads.length > 0;
    return { ...given, functions: given.functions.filter((f) => (f.startsWith('scan_') ? modules : !ON_LEADS.includes(f) || sparks)) };
  }, [given]);
  const navigate = useNavigate();
  const { modal } = App.useApp();
  const view = attempt.bench;
  const [leads, setLeads] = useState<Leads>({ red: '', black: 'BAT.-' });
  const [active, setActive] = useState<keyof Leads | null>(null);
  const [fn, setFn] = useState<MeterFunction>(attempt.functions[0] ?? 'dc_volts');
  const [expected, setExpected] = useState('');
  const [supposing, setSupposing] = useState<Supposed | null>(null);
  const [touch, setTouch] = useState<Touch>('pin');
  const [setting, setSetting] = useState<number>();
  const [chosen, setChosen] = useState<number>();
  const [pathAt, setPathAt] = useState(0);
  const [concluding, setConcluding] = useState<'name' | 'repair' | null>(null);
  const [help, setHelp] = useState(false);
  const [scope, setScope] = useState(view.captures.length > 0);
  const meter = useRef<MeterHandle>(null);

  const line = view.ledger.find((l) => l.step === chosen) ?? view.ledger.at(-1);
  const path = attempt.paths[pathAt];
  // Without a diagram there is no path to follow, only what has been read.
  const stops = useMemo(
    () => path?.stops.filter((s) => s.reachable).map((s) => s.point) ?? [...new Set(view.ledger.flatMap((l) => l.red ?? []))],
    [path, view.ledger],
  );
  const places = useMemo(() => new Set(attempt.places.map((p) => p.id)), [attempt.places]);
  const stairs = useMemo(() => {
    const key = view.controls.find((c) => c.name === 'key')?.position ?? '';
    const passed = passedTo(path, view, places);
    return stairPoints(stops, view.ledger, key).map((p, n) => ({ ...p, passed: passed[n] }));
  }, [path, stops, view, places]);
  const shot = view.captures.at(-1);
  const earlier = view.captures.slice(0, -1).map((c) => ({ label: `step ${c.step}: ${c.capture.traces.map((t) => t.name.replace(' to BAT.-', '')).join(', ')}`, capture: c.capture }));

  // A clamp goes around a wire, leads on points: changing between them takes the red lead off.
  const setFunction = (f: MeterFunction) => {
    if (ONE_LEAD[f] !== ONE_LEAD[fn]) setLeads((old) => ({ ...old, red: ONE_LEAD[f] === 'module' ? (attempt.modules[0] ?? '') : '' }));
    setFn(f);
    setSetting(undefined);
  };
  const putLead = (which: keyof Leads, point: string) => setLeads((old) => ({ ...old, [which]: point }));
  const read = async () => {
    const done = await act({
      do: 'take_reading',
      function: fn,
      range: setting ?? USUAL_SETTING[fn] ?? null,
      red: leads.red || null,
      black: ONE_LEAD[fn] ? null : leads.black || null,
      expected: attempt.predictions ? expected : null,
      supposing: attempt.predictions ? supposing : null,
      // What was chosen for the last connector does not concern a post.
      touch: goesInside(attempt, leads) ? touch : 'pin',
    });
    if (done) {
      setExpected('');
      setSupposing(null);
      setChosen(done.ledger.at(-1)?.step);
      (document.activeElement as HTMLElement | null)?.blur();
    }
  };
  const judged = scope ? shot : line;
  const judge = (verdict: Verdict) => judged && void act({ do: 'judge', step: judged.step, verdict });
  const move = (control: string, position: string) => void act({ do: 'set_control', control, position });
  const turn = (name: string, by: number) => {
    const control = view.controls.find((c) => c.name === name);
    const at = control?.positions.indexOf(control.position) ?? 0;
    const next = control?.positions[(at + by + control.positions.length) % control.positions.length];
    if (next) move(name, next);
  };
  // Opened by hand, its channels are what one types first.
  const openScope = (open: boolean) => {
    setScope(open);
    if (open) setTimeout(() => document.getElementById('scope-channels')?.focus());
  };
  const choose = (by: number) => {
    const at = view.ledger.findIndex((l) => l.step === line?.step);
    const next = view.ledger[Math.min(Math.max(at + by, 0), view.ledger.length - 1)];
    if (next) setChosen(next.step);
  };
  const marked = attempt.purpose === 'marks';
  const handIn = () =>
    modal.confirm({
      title: marked ? 'Hand in?' : 'Finish?',
      content: `After that nothing more can be done on this bench, and ${marked ? 'it is marked' : 'you can go through it step by step'}.`,
      okText: marked ? 'Hand in' : 'Finish',
      okButtonProps: { id: 'confirm-hand-in' },
      cancelText: 'Not yet',
      onOk: async () => {
        if (await act({ do: 'hand_in' })) void navigate(`/attempts/${id}/sheet`);
      },
    });

  const finds = attempt.purpose !== 'tools';
  const open = !view.handed_in && concluding === null && !help;
  const lever = view.controls.find((c) => c.name !== 'key' && isAtHand(view, c.name))?.name;
  const handlers: Record<string, (e: KeyboardEvent) => void> = {
    r: () => meter.current?.focus('red'),
    b: () => meter.current?.focus('black'),
    e: () => meter.current?.focus('expected'),
    m: () => setFunction(attempt.functions[(attempt.functions.indexOf(fn) + 1) % attempt.functions.length] ?? fn),
    k: (e) => turn('key', e.shiftKey ? -1 : 1),
    l: () => lever && turn(lever, 1),
    t: () => void act({ do: 'try_complaint' }),
    p: () => setPathAt((pathAt + 1) % attempt.paths.length),
    n: () => finds && setConcluding('name'),
    f: () => finds && setConcluding('repair'),
    u: () => document.getElementById('machine')?.focus(),
    c: () => document.getElementById('claim-places')?.focus(),
    o: () => document.getElementById('note')?.focus(),
    h: () => finds && void handIn(),
    i: () => attempt.purpose === 'practice' && void act('hint'),
    s: () => attempt.scope && openScope(!scope),
    x: () => document.getElementById('faces')?.click(),
    '?': () => setHelp(true),
    ArrowUp: () => choose(-1),
    ArrowDown: () => choose(1),
    ...Object.fromEntries((scope ? SCREEN_VERDICTS : VERDICTS).map(([v], n) => [String(n + 1), () => judge(v)])),
  };
  useKeys(handlers, open);

  const marks = useMemo(() => {
    const out: Record<string, PointMark> = {};
    if (leads.black) out[leads.black] = { lead: 'black' };
    if (leads.red) out[leads.red] = { lead: 'red' };
    return out;
  }, [leads]);
  const touchPlace = useStable((place: string) => {
    const { wires, leads: high } = attempt.drawing;
    const goes = ONE_LEAD[fn] === 'wire' ? wires.some((w) => w.id === place) : ONE_LEAD[fn] === 'lead' && high.includes(place);
    if (!goes) return;
    putLead('red', place);
    meter.current?.focus('expected');
  });
  const leadTo = useStable((point: string) => putLead('red', point));
  // A click on a place between two stops clears it, another holds it suspect, as on its chip.
  const claimPlace = useStable((place: string) => void act({ do: view.cleared.includes(place) ? 'suspect' : 'clear', places: [place] }));
  const touchPoint = useStable((point: string) => {
    if (['wire', 'module', 'lead'].includes(ONE_LEAD[fn] ?? '')) return;
    putLead(active ?? nextLead(leads), point);
    meter.current?.focus('expected');
  });

  return (
    <Shell
      crumbs={[{ text: 'Bench', to: '/attempts' }, { text: attempt.title }]}
      pills={finds ? [`${view.minutes.toFixed(0)} min at the machine`, `Step ${view.steps}`] : ['Try the tools']}
    >
      <main className="bench">
        <div className={scope ? 'left scoped' : 'left'}>
          <WorkOrder attempt={attempt} onMove={move} onTry={() => void act({ do: 'try_complaint' })} />
          <div className="diagram">
            {attempt.papers.diagram ? (
              <>
              <span className="edge-label" style={{ top: 8 }}>
                feed
              </span>
              <Diagram
                drawing={attempt.drawing}
                apart={view.apart}
                cleared={view.cleared}
                suspected={view.suspected}
                marks={marks}
                onPlace={touchPlace}
                onPoint={touchPoint}
              />
              <span className="edge-label" style={{ bottom: 8 }}>
                ground
              </span>
              </>
            ) : (
              <PointList attempt={attempt} marks={marks} onPoint={touchPoint} />
            )}
            <span className="corner">
              <HealthySheets sheets={attempt.healthy} />{' '}
              {attempt.papers.connectors && <Faces
                drawing={attempt.drawing}
                apart={view.apart}
                onPoint={(point) => {
                  putLead(active ?? nextLead(leads), point);
                  setTimeout(() => meter.current?.focus('expected'));
                }}
              />}
            </span>
          </div>
          {scope && (
            <div className="stairs" id="scope">
              <ScopeControls drawing={attempt.drawing} sweeps={attempt.sweeps} busy={busy || view.handed_in} predictions={attempt.predictions} onCapture={(s, said) => act({ do: 'capture', scope: s, expected: said })} />
              {shot ? (
                <Shot key={shot.step} capture={shot.capture} earlier={earlier} height={shot.capture.traces.length > 2 ? 186 : 216}>
                  <Button size="small" type="text" onClick={() => setScope(false)}>
                    Back to the path <kbd>S</kbd>
                  </Button>
                  <a href={`/api/attempts/${id}/captures/${shot.step}`} download>
                    as CSV
                  </a>
                  <span className="verdicts" role="group" aria-label="Verdict on the screen">
                    {SCREEN_VERDICTS.map(([verdict, text], n) => (
                      <button key={verdict} type="button" aria-pressed={shot.verdict === verdict} disabled={view.handed_in} onClick={() => judge(verdict)} title={`key ${n + 1}`}>
                        {text}
                      </button>
                    ))}
                  </span>
                  <span className="quiet cut" title={shot.capture.state}>
                    {shot.capture.state}
                  </span>
                </Shot>
              ) : (
                <>
                  <p className="quiet">Choose what each channel is put to, and capture. The machine has to turn for anything to move.</p>
                  <Button size="small" type="text" onClick={() => setScope(false)}>
                    Back to the path <kbd>S</kbd>
                  </Button>
                </>
              )}
            </div>
          )}
          {!scope && (
          <div className="stairs">
            <div className="head">
              {attempt.paths.length === 0 ? <h2>Your readings</h2> : <h2>
                Voltage along the path:{' '}
                <select aria-label="Path" value={pathAt} onChange={(e) => setPathAt(Number(e.target.value))}>
                  {attempt.paths.map((p, n) => (
                    <option key={p.title} value={n}>
                      {p.title}
                    </option>
                  ))}
                </select>{' '}
                <kbd>P</kbd>
              </h2>}
              <span className="quiet">
                bars: your predictions · dots: your readings{' '}
                {attempt.scope && (
                  <Button size="small" id="open-scope" onClick={() => openScope(true)}>
                    Oscilloscope <kbd>S</kbd>
                  </Button>
                )}
              </span>
            </div>
            <Staircase
              label={path ? `Your readings along the path ${path.title}` : 'Your readings'}
              top={14}
              points={stairs}
              active={leads.red}
              onPoint={leadTo}
              onPlace={view.handed_in || !finds ? undefined : claimPlace}
            />
          </div>
          )}
        </div>
        <div className="right footed">
          <div className="scroll">
            <Meter
              ref={meter}
              attempt={attempt}
              fn={fn}
              onFunction={setFunction}
              leads={leads}
              onLead={putLead}
              active={active}
              onActive={setActive}
              path={stops}
              expected={expected}
              touch={touch}
              onTouch={setTouch}
              setting={setting}
              onSetting={setSetting}
              onExpected={setExpected}
              supposing={supposing}
              onSupposing={setSupposing}
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
            <section aria-label="Readings" className="readings">
              <h2 style={{ marginBottom: 4 }}>Readings</h2>
              <Ledger ledger={view.ledger} chosen={line?.step} onChoose={setChosen} />
              <NoteField line={line} closed={view.handed_in} act={act} />
            </section>
            {attempt.purpose === 'practice' && <Hints view={view} busy={busy} onAsk={() => void act('hint')} />}
            {attempt.purpose === 'tools' && <Experiments id={id} />}
            {attempt.purpose !== 'tools' && <Suspicions attempt={attempt} path={pathAt} act={act} />}
            <Machine attempt={attempt} leads={leads} act={act} />
          </div>
          <section aria-label="Conclusion" className="conclusion">
            {view.named && (
              <p style={{ margin: '0 0 6px' }}>
                Named: <b>{view.named.place}</b> {view.named.mode.replaceAll('_', ' ')}
                {view.repairs.length > 0 && ` · ${view.repairs.join(', ')}`}
              </p>
            )}
            {!view.named && view.repairs.length > 0 && <p style={{ margin: '0 0 6px' }}>{view.repairs.join(', ')}</p>}
            {view.handed_in ? (
              <p>
                {marked ? 'Handed in. ' : 'Finished. '}
                <Link to={`/attempts/${id}/sheet`}>{marked ? 'Open the mark sheet' : 'Go through it step by step'}</Link>
              </p>
            ) : attempt.purpose === 'tools' ? (
              <div className="row">
                <span className="quiet">Nothing is marked and no clock runs here.</span>
                <Button type="text" size="small" aria-label="Keys" onClick={() => setHelp(true)}>
                  <kbd>?</kbd>
                </Button>
              </div>
            ) : (
              <div className="row">
                <Button id="name-fault" onClick={() => setConcluding('name')}>
                  Name the fault <kbd>N</kbd>
                </Button>
                <Button id="repair" onClick={() => setConcluding('repair')}>
                  Repair <kbd>F</kbd>
                </Button>
                <Button id="hand-in" onClick={handIn}>
                  {marked ? 'Hand in' : 'Finish'} <kbd>H</kbd>
                </Button>
                <Button type="text" size="small" aria-label="Keys" onClick={() => setHelp(true)}>
                  <kbd>?</kbd>
                </Button>
              </div>
            )}
          </section>
        </div>
      </main>
      <Conclude attempt={attempt} what={concluding} onClose={() => setConcluding(null)} act={act} />
      <Modal title="Keys" open={help} onCancel={() => setHelp(false)} footer={null}>
        <table className="sheet-table">
          <tbody>
            {KEYS.map(([key, what]) => (
              <tr key={key}>
                <td style={{ width: 80 }}>
                  <kbd>{key}</kbd>
                </td>
                <td>{what}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </Modal>
    </Shell>
  );
}

/** A click on a free point goes to the red lead, unless red has one and black has none. */
function nextLead(leads: Leads): keyof Leads {
  return leads.red !== '' && leads.black === '' ? 'black' : 'red';
}

function WorkOrder(props: { attempt: AttemptView; onMove: (control: string, position: string) => void; onTry: () => void }) {
  const { attempt } = props;
  const view = attempt.bench;
  const [all, setAll] = useState(false);
  const often = view.controls.filter((c) => isAtHand(view, c.name));
  return (
    <div className="order">
      <div className="words">
        <h1>“{attempt.words}”</h1>
        <p>
          Tried: <span id="complaint">{attempt.complaint}</span>{' '}
          <Button size="small" type="link" onClick={() => setAll(true)} style={{ padding: 0, height: 18 }}>
            Cautions
          </Button>
          {attempt.method && <span> · Asked for: {attempt.method}</span>}
          {typeof attempt.left_s === 'number' && (
            <>
              {' '}
              · <TimeLeft leftS={attempt.left_s} began={view.steps > 0} />
            </>
          )}
        </p>
        <p className="notices" role="status" id="notices">
          {view.tried && view.notices.length === 0 && 'Nothing happens.'}
          {view.notices.length > 0 && `Now: ${view.notices.map((n) => n.text).join(', ')}`}
        </p>
      </div>
      <Button id="try-complaint" onClick={props.onTry} disabled={view.handed_in} style={{ marginTop: 19 }}>
        Try it <kbd>T</kbd>
      </Button>
      {often.map((c) => (
        <div className="control" key={c.name} data-control={c.name}>
          <span className="name">
            {c.name[0]?.toUpperCase()}
            {c.name.slice(1)} <kbd>{c.name === 'key' ? 'K' : 'L'}</kbd>
          </span>
          <Segmented
            aria-label={c.name}
            value={c.position}
            options={c.positions}
            disabled={view.handed_in}
            onChange={(v) => props.onMove(c.name, String(v))}
          />
        </div>
      ))}
      <Modal title="Cautions" open={all} onCancel={() => setAll(false)} footer={null}>
        <ul style={{ paddingLeft: 18 }}>
          {attempt.cautions.map((c) => (
            <li key={c} style={{ marginBottom: 6 }}>
              {c}
            </li>
          ))}
        </ul>
      </Modal>
    </div>
  );
}

/** The places passed on the way to each reachable stop, as the student holds them. */
function passedTo(path: AttemptView['paths'][number] | undefined, view: AttemptView['bench'], known: Set<string>): NonNullable<StairPoint['passed']>[] {
  const out: NonNullable<StairPoint['passed']>[] = [];
  let passed: string[] = [];
  for (const stop of path?.stops ?? []) {
    if (stop.through && known.has(stop.through) && !passed.includes(stop.through)) passed.push(stop.through);
    if (!stop.reachable) continue;
    out.push(passed.map((place) => ({ place, held: view.cleared.includes(place) ? 'cleared' : view.suspected.includes(place) ? 'suspect' : 'open' })));
    passed = [];
  }
  return out;
}

/** The latest reading at each stop in the present key position, against battery negative. */
function stairPoints(stops: string[], ledger: LedgerLine[], key: string): StairPoint[] {
  return stops.map((point) => {
    const line = ledger.findLast(
      (l) => l.red === point && l.black === 'BAT.-' && l.function === 'dc_volts' && l.state.split(' ')[0] === key,
    );
    if (!line) return { point };
    const value = line.shown.value;
    const volts = typeof value === 'object' && 'number' in value ? value.number : undefined;
    return {
      point,
      expected: line.expected_value ?? undefined,
      dot: volts === undefined ? undefined : { volts, tone: line.verdict === 'normal' ? 'good' : line.verdict ? 'bad' : 'plain' },
    };
  });
}
