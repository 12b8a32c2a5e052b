// The instructor's fault bench: set a fault, see every reading it leads to, save it as a lesson.
import { keepPreviousData, queryOptions, useQuery, useQueryClient } from '@tanstack/react-query';
import { Button, Segmented } from 'antd';
import { useCallback, useMemo, useState } from 'react';
import { useParams } from 'react-router';

import {
  api,
  ask,
  type Drawing,
  type FaultBenchView,
  type FaultDoc,
  type PlaceInfo,
  type Scope,
} from '../../api/client';
import { Private, useProjecting } from '../../app/projector';
import { Shell } from '../../app/Shell';
import { useStable, useStill } from '../../app/useStable';
import { Controls as ScopeControls } from '../../scope/Controls';
import { Shot } from '../../scope/Shot';
import { ChosenPlace } from '../../diagram/chosen';
import { voltsColour } from '../../diagram/colours';
import { Diagram, type PointMark } from '../../diagram/Diagram';
import { Tools } from '../../diagram/Tools';
import { Staircase } from '../../staircase/Staircase';
import { brick } from '../../theme';
import { AnswerKey } from './AnswerKey';
import { FaultEditor } from './FaultEditor';
import { SaveLesson } from './SaveLesson';
import { Sweep } from './Sweep';
import { Told } from './Told';
import '../bench/layout.css';

/** More states than this are chosen from a list. */
const MOST_BUTTONS = 7;

const nothing = () => undefined;
const NO_PLACES: PlaceInfo[] = [];

/** A version of a circuit with some faults in a state, computed by the server. */
const computed = (id: number, version: number | undefined, faults: FaultDoc[], label?: string) =>
  queryOptions({
    queryKey: ['fault-bench', id, version, faults, label],
    enabled: version !== undefined,
    queryFn: () =>
      ask(api.POST('/api/circuits/{id}/fault-bench', { params: { path: { id } }, body: { faults, label } })),
    staleTime: Infinity,
  });

export default function FaultBench() {
  const id = Number(useParams().id);
  const [faults, setFaults] = useState<FaultDoc[]>([]);
  const [position, setPosition] = useState<string>();
  const [shown, setShown] = useState<'healthy' | 'faulted'>('faulted');
  const [pathAt, setPathAt] = useState(0);
  const circuit = useQuery({
    queryKey: ['circuit', id],
    queryFn: () => ask(api.GET('/api/circuits/{id}', { params: { path: { id } } })),
  });
  const version = circuit.data?.version;
  const bench = useQuery({ ...computed(id, version, faults, position), placeholderData: keepPreviousData });
  const queries = useQueryClient();
  // The question is on its way before the page draws what was chosen.
  const changeFaults = useStable((next: FaultDoc[]) => {
    void queries.prefetchQuery(computed(id, version, next, position));
    setFaults(next);
  });
  const changeState = (label: string) => {
    void queries.prefetchQuery(computed(id, version, faults, label));
    setPosition(label);
  };
  // A fault in the form is computed beside what is set, once it stands still for a moment.
  const [placeId, setPlaceId] = useState<string>();
  const [draft, setDraft] = useState<FaultDoc>();
  const still = useStill(draft, 200);
  const withDraft = useMemo(
    () => (still ? [...faults.filter((f) => f.place !== still.place), still] : faults),
    [faults, still],
  );
  const tried = useQuery({
    ...computed(id, version, withDraft, position),
    enabled: version !== undefined && still !== undefined,
    placeholderData: keepPreviousData,
  });
  const told = still && draft && (
    <Told view={tried.data} error={tried.error?.message} onAgain={() => void tried.refetch()} />
  );
  const projecting = useProjecting();
  const [inTime, setInTime] = useState(false);
  const [scope, setScope] = useState<Scope>();
  const [sweeping, setSweeping] = useState(false);
  const view = bench.data;
  const state = view?.state;
  const shot = useQuery({
    queryKey: ['capture', id, version, faults, state?.label, scope],
    queryFn: () =>
      ask(
        api.POST('/api/circuits/{id}/capture', {
          params: { path: { id } },
          body: { faults, label: state?.label ?? '', scope: scope! },
        }),
      ),
    enabled: inTime && scope !== undefined && state !== undefined,
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    retry: false,
  });
  const marks = useMemo(
    () => tags(circuit.data?.drawing, state, shown, !projecting),
    [circuit.data?.drawing, state, shown, projecting],
  );
  const marked = useMemo(() => Object.fromEntries(faults.map((f) => [f.place, f.mode.replaceAll('_', ' ')])), [faults]);
  const paths = useMemo(
    () => state?.staircases.map((s) => ({ title: s.title, points: s.stairs.map((p) => p.point) })) ?? [],
    [state],
  );
  const stairs = state?.staircases[pathAt] ?? state?.staircases[0];
  const levels = useMemo(
    () => stairs?.stairs.map((s) => ({ point: s.point, dotted: s.healthy_v, line: s.faulted_v })) ?? [],
    [stairs],
  );

  const drawing = circuit.data?.drawing;
  const places = circuit.data?.places;
  const doings = useCallback(
    (place: string) =>
      places?.some((p) => p.id === place) && (
        <Button size="small" id="fault-here" onClick={() => setPlaceId(place)}>
          Fault at {place}
        </Button>
      ),
    [places],
  );
  const tools = useMemo(() => drawing && <Tools drawing={drawing} />, [drawing]);

  if (circuit.error) return <p className="page error-line">{circuit.error.message}</p>;
  return (
    <ChosenPlace drawing={drawing}>
      <Shell
        crumbs={[{ text: 'Circuits', to: '/circuits' }, { text: circuit.data?.title ?? '…' }, { text: 'Fault bench' }]}
        pills={circuit.data && [`${circuit.data.places.length} fault places`]}
      >
        <main className={projecting ? 'bench alone' : 'bench'}>
          <div className={inTime ? 'left scoped' : 'left'}>
            <div className="order steady">
              <div className="words">
                <h1 title={headline(view, projecting)}>{headline(view, projecting)}</h1>
                {!projecting && <p title={explain(view)}>{explain(view)}</p>}
              </div>
              {view && (
                <>
                  <div className="control">
                    <span className="name">Show state</span>
                    {view.labels.length > MOST_BUTTONS ? (
                      <select
                        aria-label="Show state"
                        className="more"
                        value={position ?? state?.label}
                        onChange={(e) => changeState(e.target.value)}
                      >
                        {view.labels.map((l) => (
                          <option key={l}>{l}</option>
                        ))}
                      </select>
                    ) : (
                      <Segmented
                        aria-label="Show state"
                        value={position ?? state?.label}
                        options={view.labels}
                        onChange={(v) => changeState(String(v))}
                      />
                    )}
                  </div>
                  <div className="control">
                    <span className="name">Circuit</span>
                    <Segmented
                      aria-label="Circuit"
                      value={shown}
                      options={['healthy', 'faulted']}
                      onChange={(v) => setShown(v === 'healthy' ? 'healthy' : 'faulted')}
                    />
                  </div>
                </>
              )}
            </div>
            <div className="diagram">
              {circuit.data && (
                <Diagram
                  drawing={circuit.data.drawing}
                  marks={marks}
                  faults={projecting ? undefined : marked}
                  onPoint={nothing}
                  doings={projecting ? undefined : doings}
                  tools={tools}
                />
              )}
            </div>
            {inTime && circuit.data && (
              <div className="stairs" id="scope">
                <ScopeControls
                  drawing={circuit.data.drawing}
                  sweeps={circuit.data.sweeps}
                  busy={shot.isFetching}
                  onCapture={setScope}
                />
                {shot.error && <p className="error-line">{shot.error.message}</p>}
                {shot.data ? (
                  <Shot
                    capture={shown === 'faulted' ? shot.data.faulted : shot.data.healthy}
                    behind={shot.data.healthy}
                    height={236}
                  >
                    <Button size="small" type="text" onClick={() => setInTime(false)}>
                      Back to the path
                    </Button>
                    <span className="quiet">dotted: healthy · line: with the fault</span>
                    <Button size="small" id="sweep-open" onClick={() => setSweeping(true)}>
                      All faults through this screen
                    </Button>
                  </Shot>
                ) : (
                  <Button size="small" type="text" onClick={() => setInTime(false)}>
                    Back to the path
                  </Button>
                )}
              </div>
            )}
            {!inTime && (
              <div className="stairs">
                <div className="head">
                  <h2>
                    Voltage along the path:{' '}
                    <select aria-label="Path" value={pathAt} onChange={(e) => setPathAt(Number(e.target.value))}>
                      {state?.staircases.map((s, n) => (
                        <option key={s.title} value={n}>
                          {s.title}
                        </option>
                      ))}
                    </select>
                  </h2>
                  <span className="quiet">
                    dotted: healthy · line: with the fault{' '}
                    <Button size="small" id="open-scope" onClick={() => setInTime(true)}>
                      Oscilloscope
                    </Button>
                  </span>
                </div>
                {stairs && (
                  <Staircase
                    label={`Voltage along the path ${stairs.title}`}
                    top={((circuit.data?.drawing.system_v ?? 0) * 7) / 6}
                    points={levels}
                    lineColour={faults.length > 0 ? brick : undefined}
                    note={stairs.missing}
                  />
                )}
              </div>
            )}
          </div>
          <div className="right">
            <Private instead="">
              <FaultEditor
                places={places ?? NO_PLACES}
                faults={faults}
                onChange={changeFaults}
                placeId={placeId}
                onPlace={setPlaceId}
                onTry={setDraft}
                told={told}
              />
              {bench.error && (
                <p className="error-line" role="alert">
                  {bench.error.message}{' '}
                  <Button size="small" onClick={() => void bench.refetch()}>
                    Try again
                  </Button>
                </p>
              )}
              {view && circuit.data && (
                <SaveLesson
                  circuit={id}
                  version={circuit.data.version}
                  title={circuit.data.title}
                  wires={circuit.data.drawing.wires}
                  faults={faults}
                  view={view}
                />
              )}
              {inTime && sweeping && scope && state && circuit.data && (
                <Sweep
                  circuit={id}
                  version={circuit.data.version}
                  label={state.label}
                  scope={scope}
                  onFault={(f) => changeFaults([f])}
                  onClose={() => setSweeping(false)}
                />
              )}
              {view && state && (
                <AnswerKey circuit={id} faults={faults} rows={view.key} state={state.about} paths={paths} />
              )}
            </Private>
          </div>
        </main>
      </Shell>
    </ChosenPlace>
  );
}

/** What the machine is like; while projected, only what is noticed of it. */
function headline(view: FaultBenchView | undefined, projecting: boolean): string {
  if (!view) return 'Computing …';
  if (projecting) return `“${view.symptom}”`;
  const what = view.about.length > 0 ? view.about.join('; ') : 'Healthy';
  return `${what} · “${view.symptom}”`;
}

function explain(view?: FaultBenchView): string {
  if (!view) return '';
  if (view.about.length === 0) return 'Computed behaviour of the healthy machine. Set a fault on the right.';
  const fuses = view.blown.length > 0 ? `${view.blown.join(', ')}. ` : '';
  return view.shows
    ? `Computed symptom. ${fuses}The healthy machine: ${view.healthy_symptom}`
    : `${fuses}With this fault the machine behaves as a healthy one does: it can come in for a check.`;
}

function tags(
  drawing: Drawing | undefined,
  state: FaultBenchView['state'] | undefined,
  shown: 'healthy' | 'faulted',
  telling: boolean,
) {
  const out: Record<string, PointMark> = {};
  for (const p of state?.points ?? []) {
    if (p.point === drawing?.negative) continue;
    const faulted = shown === 'faulted';
    const volts = faulted ? p.faulted_v : p.healthy_v;
    const range = faulted ? p.faulted_range : undefined;
    out[p.point] = {
      tag: range ? `${range.least.toFixed(1)}…${range.most.toFixed(1)}` : volts.toFixed(2),
      tagColour: voltsColour(volts, drawing?.system_v ?? 0),
      tells: telling && faulted && p.tells,
    };
  }
  return out;
}
