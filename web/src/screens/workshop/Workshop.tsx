// The workshop: say the path, and the diagram draws itself.
import { Button, type Select } from 'antd';
import { useMutation, useQuery } from '@tanstack/react-query';
import { useCallback, useEffect, useMemo, useRef, useState, type ComponentRef } from 'react';
import { Link, useParams } from 'react-router';

import { api, ask, type CircuitDoc, type Drawing, type KindItem, type Offer } from '../../api/client';
import { FileButton } from '../../app/FileButton';
import { Shell } from '../../app/Shell';
import { useStable } from '../../app/useStable';
import { UNITS, useUnits, type Units } from '../../app/units';
import { Tools } from '../../diagram/Tools';
import { ChosenPlace } from '../../diagram/chosen';
import { Diagram, type PointMark } from '../../diagram/Diagram';
import { connectorAcross, wire } from './edits';
import { Parts } from './Parts';
import { PlaceEdits } from './PlaceEdits';
import { Shelf } from './Shelf';
import { useDraft } from './useDraft';
import { Versions } from './Versions';
import { Cell, Wires } from './Wires';
import './Workshop.css';

export default function Workshop() {
  const id = Number(useParams().id);
  const draft = useDraft(id);
  const [units, setUnits] = useUnits();
  const kinds = useQuery({ queryKey: ['kinds'], queryFn: () => ask(api.GET('/api/kinds')), staleTime: Infinity });
  const line = useRef<HTMLInputElement>(null);
  const shelf = useRef<ComponentRef<typeof Select>>(null);
  // A wire by hand: one point, then another.
  const [from, setFrom] = useState<string>();
  const { undo, redo } = draft;
  useEffect(() => {
    const listen = (e: KeyboardEvent) => {
      const typing = (e.target as HTMLElement).matches('input, textarea, select');
      const key = e.key.toLowerCase();
      if ((e.ctrlKey || e.metaKey) && key === 'z' && !typing) {
        e.preventDefault();
        if (e.shiftKey) redo();
        else undo();
      } else if (!typing && key === '/') {
        e.preventDefault();
        line.current?.focus();
      } else if (!typing && key === 'p') {
        e.preventDefault();
        shelf.current?.focus();
      } else if (e.key === 'Escape') setFrom(undefined);
      else if (!typing && key === 'z') undo();
      else if (!typing && key === 'y') redo();
    };
    window.addEventListener('keydown', listen);
    return () => window.removeEventListener('keydown', listen);
  }, [undo, redo]);
  const { doc, checked, change } = draft;
  // The diagram stays while a word is being typed that the circuit cannot be read with.
  const [drawing, setDrawing] = useState<Drawing>();
  if (checked?.drawing && checked.drawing !== drawing) setDrawing(checked.drawing);
  const move = useCallback(
    (moved: string, dx: number, dy: number) =>
      change((old) => {
        const [x = 0, y = 0] = old.layout?.[moved] ?? [];
        return { ...old, layout: { ...old.layout, [moved]: [x + dx, y + dy] } };
      }),
    [change],
  );
  const terminals = useMemo(() => (doc ? terminalsOf(doc, kinds.data ?? []) : []), [doc, kinds.data]);
  const marks = useMemo<Record<string, PointMark>>(() => (from ? { [from]: { lead: 'red' } } : {}), [from]);
  const join = useStable((a: string, b: string) => {
    setFrom(undefined);
    if (a !== b) change((old) => wire(old, a, b));
  });
  const wireTo = useStable((point: string) => (from ? join(from, point) : setFrom(point)));
  const doings = useCallback(
    (place: string) =>
      drawing && (
        <PlaceEdits
          place={place}
          drawing={drawing}
          kinds={kinds.data ?? []}
          from={from}
          onWire={setFrom}
          change={change}
        />
      ),
    [drawing, kinds.data, from, change],
  );
  // Wires that a frame was drawn round, to put one connector across them.
  const [framed, setFramed] = useState<string[]>([]);
  const frame = useStable((places: string[]) =>
    setFramed(places.filter((p) => drawing?.wires.some((w) => w.id === p))),
  );
  const across = useStable(() => {
    setFramed([]);
    change((old) => connectorAcross(old, framed, kinds.data ?? []));
  });
  // One at a time: the next is of the circuit that the last one made.
  const mend = useMutation({
    mutationFn: (body: { document: CircuitDoc; mend: Offer['mend'] }) => ask(api.POST('/api/circuits/mend', { body })),
    onSuccess: (mended) => change(() => mended),
  });
  const tools = useMemo(
    () =>
      drawing && (
        <>
          {framed.length > 0 && (
            <>
              <Button size="small" id="connector-across" onClick={across}>
                Connector across {framed.join(', ')}
              </Button>{' '}
              <Button size="small" onClick={() => setFramed([])}>
                Not these
              </Button>{' '}
            </>
          )}
          <Tools drawing={drawing} />
        </>
      ),
    [drawing, framed, across],
  );
  if (!doc) return <p className="page quiet">{draft.error ? draft.error.message : 'Opening the workshop …'}</p>;
  const findings = [...(checked?.refused ?? []), ...(checked?.warnings ?? [])];
  return (
    <ChosenPlace drawing={drawing}>
      <Shell
        crumbs={[{ text: 'Circuits', to: '/circuits' }, { text: doc.title }, { text: 'Workshop' }]}
        pills={[`version ${draft.version ?? '…'}`, draft.saved ? 'saved' : 'saving …']}
      >
        <main className="workshop">
          <div className="left">
            <div className="scroll">
              <label>
                <span className="field-label">Title</span>
                <span className="title-field">
                  <Cell label="Title" value={doc.title} onValue={(t) => t && change((old) => ({ ...old, title: t }))} />
                </span>
              </label>
              <Shelf field={shelf} kinds={kinds.data ?? []} change={change} />
              <div className="row spread">
                <h2>
                  Wires <span className="quiet light">{doc.wires?.length ?? 0}</span>
                </h2>
                <WireList doc={doc} onTaken={(taken) => change(() => taken)} />
                <select
                  aria-label="Units"
                  className="more"
                  value={units}
                  onChange={(e) => setUnits(e.target.value as Units)}
                >
                  {UNITS.map((u) => (
                    <option key={u}>{u}</option>
                  ))}
                </select>
              </div>
              <Wires doc={doc} terminals={terminals} findings={findings} change={change} units={units} />
              <h2>Parts, connectors, grounds</h2>
              <Parts doc={doc} kinds={kinds.data ?? []} change={change} units={units} />
            </div>
            <PathLine doc={doc} field={line} onSaid={(said) => change(() => said)} />
          </div>
          <div className="right">
            <div className="row head">
              <Button size="small" disabled={!draft.canUndo} onClick={undo}>
                Undo <kbd>Z</kbd>
              </Button>
              <Button size="small" disabled={!draft.canRedo} onClick={redo}>
                Redo <kbd>Y</kbd>
              </Button>
              <Versions circuit={id} onTake={(taken) => change(() => taken)} />
              {Object.keys(doc.layout ?? {}).length > 0 && (
                <Button size="small" onClick={() => change((old) => ({ ...old, layout: {} }))}>
                  Lay out anew
                </Button>
              )}
              <span className="grow" />
              {['json', 'csv', 'harness.csv', 'cir'].map((f) => (
                <a key={f} href={`/api/circuits/${id}/export/${f}`} download>
                  {{ json: 'Document', csv: 'Wire list', 'harness.csv': 'Check sheet', cir: 'SPICE' }[f]}
                </a>
              ))}
              <Link to={`/circuits/${id}/fault-bench`}>Fault bench</Link>
            </div>
            <div className="diagram" style={checked?.drawing ? undefined : { opacity: 0.45 }}>
              {drawing ? (
                <Diagram
                  drawing={drawing}
                  marks={marks}
                  onPoint={wireTo}
                  onJoin={join}
                  onMove={move}
                  onArea={frame}
                  doings={doings}
                  tools={tools}
                />
              ) : (
                <p className="quiet padded">The diagram appears as soon as the circuit can be read.</p>
              )}
            </div>
            <section aria-label="Check" className="check">
              {draft.error && (
                <p className="error-line" role="alert">
                  {draft.error.message} {draft.conflict && <a href={`/circuits/${id}/workshop`}>Load theirs</a>}
                </p>
              )}
              <h2>Check</h2>
              {!checked && <p className="quiet">Checking …</p>}
              {checked && findings.length === 0 && <p className="good">No problems found.</p>}
              {mend.error && (
                <p className="error-line" role="alert">
                  {mend.error.message}
                </p>
              )}
              <ul id="findings">
                {findings.slice(0, 12).map((f) => (
                  <li key={`${f.path} ${f.message}`} className={f.severity === 'refused' ? 'bad' : undefined}>
                    <b className="mono">{f.path}</b> {f.message}
                    {f.mends?.map((offer) => (
                      <Button
                        key={offer.say}
                        size="small"
                        className="mend"
                        disabled={mend.isPending}
                        onClick={() => mend.mutate({ document: doc, mend: offer.mend })}
                      >
                        {offer.say}
                      </Button>
                    ))}
                  </li>
                ))}
              </ul>
              {/* Its line is there from the start: the diagram keeps its height. */}
              {!checked && <p>&nbsp;</p>}
              {checked?.healthy && (
                <p id="healthy">
                  Healthy: <b>{checked.healthy}</b>{' '}
                  <span className="quiet">{checked.places} places where a fault can sit</span>
                </p>
              )}
            </section>
          </div>
        </main>
      </Shell>
    </ChosenPlace>
  );
}

/** A wire list as CSV in the place of the wires; undone like any other change. */
function WireList({ doc, onTaken }: { doc: CircuitDoc; onTaken: (doc: CircuitDoc) => void }) {
  const [error, setError] = useState('');
  const take = async (text: string) => {
    try {
      onTaken(await ask(api.POST('/api/circuits/wires', { body: { document: doc, wire_list: text } })));
      setError('');
    } catch (e) {
      setError((e as Error).message);
    }
  };
  return (
    <>
      <FileButton id="wire-list" className="quiet" accept=".csv,text/csv" onText={take}>
        <u>Import wire list (CSV)</u>
      </FileButton>
      {error && (
        <p className="error-line pre-line" role="alert" id="wire-list-error">
          {error}
        </p>
      )}
    </>
  );
}

function PathLine(props: {
  doc: CircuitDoc;
  field: React.RefObject<HTMLInputElement | null>;
  onSaid: (doc: CircuitDoc) => void;
}) {
  const [text, setText] = useState('');
  const [error, setError] = useState('');
  const empty = Object.keys(props.doc.parts ?? {}).length === 0;
  const starts = useQuery({
    queryKey: ['starts'],
    queryFn: () => ask(api.GET('/api/circuits/starts')),
    staleTime: Infinity,
    enabled: empty,
  });
  const say = async () => {
    try {
      props.onSaid(await ask(api.POST('/api/circuits/say', { body: { document: props.doc, line: text } })));
      setText('');
      setError('');
    } catch (e) {
      setError((e as Error).message);
    }
  };
  return (
    <form
      className="path-line"
      onSubmit={(e) => {
        e.preventDefault();
        if (text.trim() !== '') void say();
      }}
    >
      <label htmlFor="path-line" className="field-label">
        Add wires by typing <kbd>/</kbd>
      </label>
      <input
        id="path-line"
        ref={props.field}
        className="text-field mono"
        value={text}
        placeholder="M1.31 > 35 BK 0.8 > G1(engine) > strap 25 0.4 > BAT.-"
        autoComplete="off"
        spellCheck={false}
        onChange={(e) => setText(e.target.value)}
        onKeyDown={(e) => e.key === 'Escape' && e.currentTarget.blur()}
      />
      <div role="alert" className="error-line close error-room">
        {error}
      </div>
      {empty && text === '' && starts.data && (
        <p className="quiet">
          Nothing is here yet: type a path, take a part from the shelf, or{' '}
          <button
            type="button"
            id="first-path"
            className="plain"
            onClick={() => {
              setText(starts.data.first_path);
              props.field.current?.focus();
            }}
          >
            <u>begin with a fuse, a switch and a lamp</u>
          </button>
          .
        </p>
      )}
    </form>
  );
}

/** Every name that a wire can go to. */
function terminalsOf(doc: CircuitDoc, kinds: KindItem[]): string[] {
  const parts = Object.entries(doc.parts ?? {}).flatMap(([id, p]) =>
    (kinds.find((k) => k.kind === p.kind)?.terminals ?? []).map((t) => `${id}.${t}`),
  );
  const cavities = Object.entries(doc.connectors ?? {}).flatMap(([id, c]) =>
    Array.from({ length: c.cavities }, (_, n) => [`${id}.${n + 1}m`, `${id}.${n + 1}f`]).flat(),
  );
  return [...parts, ...cavities, ...Object.keys(doc.splices ?? {}), ...Object.keys(doc.grounds ?? {})];
}
