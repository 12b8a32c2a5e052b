// Saving the bench as a lesson and giving it to students.
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Button, Checkbox, Input, InputNumber, Modal, Select } from 'antd';
import { memo, useState } from 'react';
import { Link } from 'react-router';

import { api, ask, type FaultBenchView, type FaultDoc, type MeterFunction, type Variant } from '../../api/client';
import { useStill } from '../../app/useStable';
import { useInstruments } from '../../app/instruments';
import { bodyOf, countOf, GivingTo, useGiving } from '../classes/Giving';
import { pairsOf } from '../classes/pairs';
import { studentsOf } from '../classes/useClasses';
import { AskFor, sheetKind, usePredictions, type AskedFor } from './AskFor';
import { BinderOf, type NewBinder } from './BinderOf';
import { JobOf, type Job } from './JobOf';
import { LessonRules, useUsual, type Rules } from './LessonRules';
import { useSheets } from './Sheets';
import { useBuild, type Wires } from './ToBuild';
import { ToldOf, type Told } from './ToldOf';
import { RuleSets } from '../lessons/RuleSets';
import './SaveLesson.css';

type Props = {
  circuit: number;
  version: number;
  title: string;
  wires: Wires;
  faults: FaultDoc[];
  view: FaultBenchView;
};

const students = (count: number) => `${count} ${count === 1 ? 'student' : 'students'}`;

export const SaveLesson = memo(function SaveLesson({ circuit, version, title, wires, faults, view }: Props) {
  const queries = useQueryClient();
  const [open, setOpen] = useState(false);
  const [older, setOlder] = useState<number>();
  const [name, setName] = useState('');
  const [words, setWords] = useState('');
  const giving = useGiving();
  const [predictions, setPredictions] = useState(true);
  const [practice, setPractice] = useState(false);
  const [job, setJob] = useState<Job>('complaint');
  const [askedFor, setAskedFor] = useState<AskedFor>('fault');
  const onPaper = askedFor === 'predictions';
  const finds = askedFor === 'fault';
  // Without a fault it is a bench for learning the tools, or a check of a sound machine.
  const sound = faults.length === 0;
  const tools = sound && job === 'complaint' && finds;
  const [error, setError] = useState('');
  const [saved, setSaved] = useState('');
  const [pool, setPool] = useState(false);
  const [band, setBand] = useState<[number, number]>();
  const [dealt, setDealt] = useState<Variant[]>([]);
  const [working, setWorking] = useState(false);
  const instruments = useInstruments();
  const [functions, setFunctions] = useState<MeterFunction[]>(() => instruments.map((i) => i.function));
  const usual = useUsual(open);
  const [changed, setChanged] = useState<Rules>();
  const rules = changed ?? usual?.rules;
  const [told, setTold] = useState<Told>({});
  const [binder, setBinder] = useState<NewBinder>();
  const preview = useQuery({
    queryKey: ['preview', circuit, older ?? version, faults, job, functions, rules?.forbidden],
    queryFn: ({ signal }) =>
      ask(
        api.POST('/api/lessons/preview', {
          signal,
          body: {
            title: 'Preview',
            complaint: '',
            circuit,
            version: older ?? version,
            faults,
            job,
            predictions: true,
            functions,
            rules,
          },
        }),
      ),
    enabled: open && !pool && !tools && finds && functions.length > 0,
    placeholderData: (before) => before,
    retry: false,
    staleTime: Infinity,
  });
  const filling = useSheets({ circuit, version: older ?? version, faults }, open ? sheetKind(askedFor) : undefined);
  const building = useBuild(wires);
  const predicting = usePredictions({ circuit, version: older ?? version, faults, functions }, open && onPaper);
  // The words are held against the machine once they stand still for a moment.
  const still = useStill(words, 400);
  const contradictions = useQuery({
    queryKey: ['words', circuit, older ?? version, faults, still],
    queryFn: () =>
      ask(api.POST('/api/lessons/words', { body: { circuit, version: older ?? version, faults, complaint: still } })),
    enabled: open && !tools && finds && still !== '',
    retry: false,
    staleTime: Infinity,
  });
  const kept = useQuery({
    queryKey: ['versions', circuit],
    queryFn: () => ask(api.GET('/api/circuits/{id}/versions', { params: { path: { id: circuit } } })),
    enabled: open,
    gcTime: 0,
  });
  const machine = title.split(',')[0] ?? title;
  const named = sound ? `Try the tools: ${title}` : `${machine}: ${view.symptom.split('.')[0]?.toLowerCase()}`;
  const names: Record<AskedFor, string> = {
    fault: named,
    predictions: `${machine}: what will the meter show?`,
    surveys: `${machine}: keep, clean, renew`,
    checks: `${machine}: its harness, run by run`,
    identify: `${machine}: a plug without marks`,
    build: `${machine}: wire it`,
  };
  const begin = () => {
    // What is not noticed from the seat comes in for a check.
    setJob(sound || view.shows ? 'complaint' : 'check_up');
    setName(named);
    setWords('');
    giving.reset();
    setError('');
    setSaved('');
    setOlder(undefined);
    setPool(false);
    setDealt([]);
    setTold({});
    setBinder(undefined);
    setAskedFor('fault');
    setOpen(true);
  };
  const askFor = (asked: AskedFor) => {
    setAskedFor(asked);
    // What nobody has named yet is called by what is asked.
    if (Object.values(names).includes(name)) setName(names[asked]);
    if (asked !== 'fault') setPool(false);
  };
  const choosePool = (chosen: boolean) => {
    setPool(chosen);
    // All faults at once are nobody's any more: the plans of each come sooner.
    if (chosen) void queries.cancelQueries({ queryKey: ['preview'] });
  };
  const save = async () => {
    const { klass, given } = giving;
    if (!klass) {
      setError('You teach no class yet: make one under Classes.');
      return;
    }
    if (onPaper && predicting.task.ask.length === 0) {
      setError('Nothing is asked for yet: tick at least one reading.');
      return;
    }
    if (sheetKind(askedFor) && !filling.sheet) {
      setError('There is no such sheet for this machine: ask for something else.');
      return;
    }
    setError('');
    setWorking(true);
    try {
      const purpose = tools ? ('tools' as const) : practice ? ('practice' as const) : ('marks' as const);
      const body = {
        title: name,
        // What a machine that is built is to do, unless it is said in other words.
        complaint: words || (finds || askedFor === 'build' ? view.symptom : ''),
        circuit,
        version: older ?? version,
        faults,
        purpose,
        job,
        task: onPaper ? predicting.task : askedFor === 'build' ? building.task : filling.sheet?.task,
        // A survey is read as it comes, and of leads without a name nothing can be expected.
        predictions: predictions && !tools && (finds || onPaper),
        functions,
        rules,
        told: finds && !tools ? told : undefined,
        binder: finds && !tools ? binder : undefined,
      };
      if (pool) {
        const seed = Math.floor(Math.random() * 2 ** 31);
        const variants = {
          lesson: body,
          band: band && { least_minutes: band[0], most_minutes: band[1] },
          class: klass.id,
          students: given.students ?? studentsOf(klass).map((s) => s.id),
          pairs: pairsOf(given.pairs ?? []),
          terms: given.terms,
          seed,
        };
        setDealt(await ask(api.POST('/api/lessons/variants', { body: variants })));
        await queries.invalidateQueries({ queryKey: ['lessons'] });
        setSaved(`Dealt to ${students(countOf(given, klass))}.`);
        return;
      }
      const lesson = await ask(api.POST('/api/lessons', { body }));
      const count = countOf(given, klass);
      // One that is given to nobody is kept for later.
      if (count > 0 || !given.students) {
        await ask(api.POST('/api/assignments', { body: bodyOf(given, klass, lesson.id) }));
      }
      await queries.invalidateQueries({ queryKey: ['lessons'] });
      await queries.invalidateQueries({ queryKey: ['assignments'] });
      setSaved(`Saved as “${name}” and given to ${students(count)}.`);
      setOpen(false);
    } catch (e) {
      setError((e as Error).message);
    } finally {
      setWorking(false);
    }
  };
  return (
    <section aria-label="Lesson">
      <div className="row">
        <Button id="save-lesson" onClick={begin}>
          {sound ? 'Give out healthy' : 'Save as a lesson'}
        </Button>
        <span className="quiet" role="status">
          {saved ? (
            <>
              {saved} <Link to="/lessons">Lessons</Link>
            </>
          ) : (
            !sound && !view.shows && 'Not noticed from the seat: a check-up.'
          )}
        </span>
      </div>
      <Modal
        title={tools ? 'Give out to try the tools' : 'Save as a lesson'}
        className="high-modal"
        open={open}
        onCancel={() => setOpen(false)}
        onOk={() => (dealt.length > 0 ? setOpen(false) : void save())}
        okText={dealt.length > 0 ? 'Done' : 'Save and give out'}
        okButtonProps={{ id: 'give-lesson' }}
        confirmLoading={working}
        destroyOnHidden
      >
        <div className="stack">
          <label>
            <span className="field-label">Title</span>
            <Input id="lesson-title" value={name} onChange={(e) => setName(e.target.value)} />
          </label>
          <AskFor
            value={askedFor}
            onChange={askFor}
            sound={sound}
            predicting={predicting}
            filling={filling}
            building={building}
          />
          {finds && <JobOf job={job} onChange={setJob} sound={sound} noticed={view.shows} />}
          <label>
            <span className="field-label">
              {finds ? 'Complaint in the customer’s words' : 'What the students read first'}
            </span>
            <Input.TextArea
              id="lesson-words"
              rows={2}
              value={words}
              placeholder={finds || askedFor === 'build' ? view.symptom : onPaper ? 'What will the meter show?' : name}
              onChange={(e) => setWords(e.target.value)}
            />
          </label>
          {finds && (
            <p className="quiet tight">
              Computed symptom: {view.symptom}{' '}
              {still === words && contradictions.data && contradictions.data.length > 0 && (
                <span className="bad" id="contradictions">
                  {contradictions.data.join(' ')}
                </span>
              )}
            </p>
          )}
          {(kept.data?.length ?? 0) > 0 && (
            <label className="quiet">
              Version of the circuit{' '}
              <select
                id="lesson-version"
                className="more"
                value={older ?? version}
                onChange={(e) => setOlder(Number(e.target.value) === version ? undefined : Number(e.target.value))}
              >
                <option value={version}>{version}, as it is now</option>
                {kept.data?.map((v) => (
                  <option key={v.version} value={v.version}>
                    {v.version}, of {new Date(v.changed_at * 1000).toLocaleString()}
                  </option>
                ))}
              </select>
            </label>
          )}
          {!pool && !tools && finds && (
            <p className="tight" id="preview">
              {preview.isFetching && <span className="quiet">Working out what it can show …</span>}
              {preview.error && <span className="bad">{preview.error.message}</span>}
              {preview.data && (
                <>
                  {preview.data.plan.begin.length} places possible after the complaint; proven in{' '}
                  {preview.data.plan.steps.length} readings, {preview.data.plan.minutes.toFixed(0)} min.{' '}
                  <span className="bad">{preview.data.warning}</span>
                </>
              )}
            </p>
          )}
          {!tools && (
            <Checkbox id="practice" checked={practice} onChange={(e) => setPractice(e.target.checked)}>
              {!finds ? 'For practice: no marks' : 'For practice: no marks, and hints that cost minutes'}
            </Checkbox>
          )}
          {!tools && finds && (
            <Checkbox checked={predictions} onChange={(e) => setPredictions(e.target.checked)}>
              Ask for a prediction before each reading
            </Checkbox>
          )}
          {usual && (
            <RuleSets
              reused={{ predictions, functions, rules: rules ?? usual.rules }}
              onTake={(reused) => {
                setPredictions(reused.predictions);
                setFunctions(reused.functions);
                setChanged(reused.rules);
              }}
            />
          )}
          <label>
            <span className="field-label">Instruments</span>
            <Select
              id="lesson-functions"
              mode="multiple"
              className="whole-width"
              maxTagCount={5}
              value={functions}
              onChange={setFunctions}
              options={instruments.map((i) => ({ value: i.function, label: i.label }))}
            />
          </label>
          {usual && (
            <LessonRules
              rules={rules ?? usual.rules}
              onChange={setChanged}
              usual={usual}
              marked={!tools && !practice}
              finds={finds && !tools}
            />
          )}
          {usual && finds && !tools && <ToldOf told={told} onChange={setTold} usual={usual} />}
          {finds && !tools && <BinderOf circuit={circuit} binder={binder} onChange={setBinder} />}
          {faults.length > 1 && finds && (
            <Checkbox id="pool" checked={pool} onChange={(e) => choosePool(e.target.checked)}>
              A pool: each student gets one of these {faults.length} faults, neighbours different ones
            </Checkbox>
          )}
          {pool && (
            <div className="row">
              <Checkbox
                id="fair-band"
                checked={!band}
                onChange={(e) => setBand(e.target.checked ? undefined : [0, 60])}
              >
                As hard for each: plans within 20 % of each other
              </Checkbox>
              {band && (
                <>
                  <span>from</span>
                  <InputNumber
                    aria-label="Least minutes"
                    min={0}
                    value={band[0]}
                    onChange={(v) => setBand([v ?? 0, band[1]])}
                  />
                  <span>to</span>
                  <InputNumber
                    aria-label="Most minutes"
                    min={0}
                    value={band[1]}
                    onChange={(v) => setBand([band[0], v ?? 0])}
                  />
                  <span>minutes of the reference plan</span>
                </>
              )}
            </div>
          )}
          <GivingTo {...giving} dealt={pool} />
          {dealt.length > 0 && (
            <table className="sheet-table" aria-label="Dealt">
              <tbody>
                {dealt.map((v) => (
                  <tr key={v.fault} className={v.inside ? undefined : 'quiet'}>
                    <td>{v.fault}</td>
                    <td className="number">
                      {v.minutes.toFixed(1)} min · {v.readings} readings
                    </td>
                    <td>{v.inside ? v.students.join(', ') || '–' : 'outside the band'}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
          <div role="status" className="quiet">
            {working && pool && `Working out the plans of ${faults.length} faults …`}
          </div>
          <div role="alert" className="error-line">
            {error}
          </div>
        </div>
      </Modal>
    </section>
  );
});
