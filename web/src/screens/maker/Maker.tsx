// The lesson maker: what a lesson is to practise and how hard it is to be, and faults of the circuit that make such a lesson.
import { useQuery } from '@tanstack/react-query';
import { Button, Checkbox, Input, InputNumber, Select } from 'antd';
import { useState } from 'react';
import { useParams } from 'react-router';

import { api, ask, sentenceOf, type Schemas } from '../../api/client';
import { Private } from '../../app/projector';
import { Shell } from '../../app/Shell';
import { useChange } from '../classes/useClasses';
import { useCards, useSkills } from '../courses/SkillMap';
import { GiveOut } from '../lessons/GiveOut';
import './Maker.css';

type Proposed = Schemas['Proposed'];
type Skill = Proposed['proof']['skills'][number]['skill'];
type Wish = { skills: Skill[]; least: number; most: number; practice: boolean };

const USUAL: Wish = { skills: [], least: 5, most: 30, practice: false };

/** A draft title: the machine, and what is noticed first. */
export const titleOf = (circuit: string, complaint: string) => {
  const noticed = complaint.split('.')[0]?.split(': ').at(-1)?.split(',')[0]?.toLowerCase();
  return `${circuit.split(',')[0]}: ${noticed || 'look it over'}`;
};

export default function Maker() {
  const id = Number(useParams().id);
  const circuits = useQuery({ queryKey: ['circuits'], queryFn: () => ask(api.GET('/api/circuits')) });
  const circuit = circuits.data?.find((c) => c.id === id);
  const skills = useCards();
  const [wish, setWish] = useState(USUAL);
  const [found, setFound] = useState<Proposed[]>([]);
  const [said, setSaid] = useState('');
  const [error, setError] = useState('');
  const [working, setWorking] = useState(false);
  const body = (complaint: string) => ({
    title: circuit?.title ?? 'A lesson',
    complaint,
    circuit: id,
    faults: [],
    predictions: true,
    purpose: wish.practice ? ('practice' as const) : ('marks' as const),
  });
  const find = async (before: Proposed[]) => {
    setWorking(true);
    setError('');
    setSaid('');
    try {
      const got = await ask(
        api.POST('/api/lessons/proposals', {
          body: {
            lesson: body(''),
            wish: {
              skills: wish.skills,
              band: { least_minutes: wish.least, most_minutes: wish.most },
              not: before.map((p) => p.fault),
              seed: Math.floor(Math.random() * 2 ** 31),
            },
          },
        }),
      );
      setFound([...before, ...got.found]);
      setSaid(
        got.found.length > 0
          ? `${got.found.length} found; ${got.tried} of ${got.of} faults were tried.`
          : `None of the ${got.tried} faults that were tried (of ${got.of}) is like this: ask for other skills, or widen the minutes.`,
      );
    } catch (e) {
      setError(sentenceOf(e));
    }
    setWorking(false);
  };
  const crumbs = [
    { text: 'Circuits', to: '/circuits' },
    { text: circuit?.title ?? '…', to: `/circuits/${id}/fault-bench` },
    { text: 'Make lessons' },
  ];
  return (
    <Shell crumbs={crumbs}>
      <main className="page" tabIndex={0}>
        <h1>Make lessons</h1>
        <p className="quiet">
          Say what is to be practised and how hard it may be. Faults are tried by chance, the usual ones sooner, and
          each that is proposed was proven: its plan leads to it.
        </p>
        <form
          className="maker"
          onSubmit={(e) => {
            e.preventDefault();
            void find([]);
          }}
        >
          <label>
            <span className="field-label">Skills</span>
            <Select
              id="wish-skills"
              mode="multiple"
              className="whole-width"
              placeholder="Any"
              value={wish.skills}
              onChange={(chosen) => setWish({ ...wish, skills: chosen })}
              options={skills.data?.map((s) => ({ value: s.id, label: s.name }))}
            />
          </label>
          <div className="row">
            <label>
              <span className="field-label">From, minutes</span>
              <InputNumber
                id="wish-least"
                min={0}
                max={wish.most}
                value={wish.least}
                onChange={(least) => setWish({ ...wish, least: least ?? 0 })}
              />
            </label>
            <label>
              <span className="field-label">To</span>
              <InputNumber
                id="wish-most"
                min={wish.least}
                max={240}
                value={wish.most}
                onChange={(most) => setWish({ ...wish, most: most ?? USUAL.most })}
              />
            </label>
            <Checkbox checked={wish.practice} onChange={(e) => setWish({ ...wish, practice: e.target.checked })}>
              For practice, without marks
            </Checkbox>
          </div>
          <div className="row">
            <Button type="primary" htmlType="submit" id="find-lessons" loading={working} disabled={!circuit}>
              Find lessons
            </Button>
            {found.length > 0 && (
              <Button onClick={() => void find(found)} disabled={working} id="find-more">
                Find more
              </Button>
            )}
          </div>
        </form>
        <p role="status" className="quiet">
          {working ? 'Trying faults, and proving what suits …' : said}
        </p>
        <div role="alert" className="error-line">
          {error}
        </div>
        {found.map((one) => (
          <One key={`${one.text}`} one={one} circuit={circuit?.title ?? ''} skills={wish.skills} body={body} />
        ))}
      </main>
    </Shell>
  );
}

type OneProps = {
  one: Proposed;
  circuit: string;
  skills: Skill[];
  body: (complaint: string) => Schemas['NewLesson'];
};

/** A lesson that is proposed, in words that can be changed. */
function One({ one, circuit, skills, body }: OneProps) {
  const name = useSkills();
  const [title, setTitle] = useState(titleOf(circuit, one.complaint));
  const [complaint, setComplaint] = useState(one.complaint);
  const [saved, setSaved] = useState<number>();
  const { change, error } = useChange();
  const { proof } = one;
  const save = () =>
    change(async () => {
      const lesson = { ...body(complaint), title, faults: [one.fault], skills };
      setSaved((await ask(api.POST('/api/lessons', { body: lesson }))).id);
    });
  return (
    <section className="apart proposed" data-proposed={one.text} aria-label={title}>
      <h2>
        <Private instead="A fault">{one.text}</Private>
      </h2>
      <p className="close">
        {proof.minutes.toFixed(0)} min · {proof.readings} {proof.readings === 1 ? 'reading' : 'readings'} ·{' '}
        {proof.places} places possible after the complaint · {proof.misleading}{' '}
        {proof.misleading === 1 ? 'false lead' : 'false leads'}
        {proof.group.length > 1 && ` · told apart down to ${proof.group.length} places`}
      </p>
      <p className="close quiet">
        Its plan shows: {proof.skills.map((s) => name(s.skill)).join(' · ')}.{' '}
        {one.as_hard > 0
          ? `${one.as_hard} of the others ${one.as_hard === 1 ? 'is' : 'are'} as hard: a neighbour may have ${one.as_hard === 1 ? 'it' : 'one'}.`
          : 'None of the others is as hard as it.'}
      </p>
      <label>
        <span className="field-label">Title</span>
        <Input value={title} onChange={(e) => setTitle(e.target.value)} disabled={saved !== undefined} />
      </label>
      <label>
        <span className="field-label">Complaint: put it in a customer’s words</span>
        <Input.TextArea
          autoSize
          value={complaint}
          onChange={(e) => setComplaint(e.target.value)}
          disabled={saved !== undefined}
        />
      </label>
      <div className="row">
        {saved === undefined ? (
          <Button onClick={() => void save()} disabled={title.trim() === '' || complaint.trim() === ''}>
            Save as a lesson
          </Button>
        ) : (
          <>
            <span className="good">Saved.</span> <GiveOut lesson={saved} title={title} />
          </>
        )}
      </div>
      <div role="alert" className="error-line">
        {error}
      </div>
    </section>
  );
}
