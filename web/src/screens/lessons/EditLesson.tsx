// Changing a lesson that was made before: another version of it.
import { useQuery } from '@tanstack/react-query';
import { Button, Checkbox, Input, Modal, Select } from 'antd';
import { useState } from 'react';
import { RuleSets } from './RuleSets';

import { api, ask, type Schemas } from '../../api/client';
import { useInstruments } from '../../app/instruments';
import { useChange } from '../classes/useClasses';
import { JobOf } from '../fault-bench/JobOf';
import { useCards } from '../courses/SkillMap';
import { AskedReadings } from './AskedReadings';
import { AskedRows } from './AskedRows';
import { LessonRules, useUsual } from '../fault-bench/LessonRules';
import { ToldOf } from '../fault-bench/ToldOf';

type Item = Schemas['LessonItem'];
type View = Schemas['LessonView'];

export function EditLesson({ lesson }: { lesson: Item }) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button size="small" data-edit={lesson.id} onClick={() => setOpen(true)}>
        Change
      </Button>
      {open && <Editing lesson={lesson} onClose={() => setOpen(false)} />}
    </>
  );
}

function Editing({ lesson, onClose }: { lesson: Item; onClose: () => void }) {
  const path = { params: { path: { id: lesson.id } } };
  const found = useQuery({
    queryKey: ['lesson', lesson.id],
    queryFn: () => ask(api.GET('/api/lessons/{id}', path)),
    gcTime: 0,
  });
  const usual = useUsual(true);
  const instruments = useInstruments();
  const skills = useCards();
  const [changed, setChanged] = useState<View>();
  const { change, error } = useChange();
  const view = changed ?? found.data;
  const begun = lesson.attempts.filter((a) => a.steps > 0).length;
  const save = async () => {
    if (!view || !found.data) return;
    const filed = { folder: view.folder, put_away: view.put_away };
    const done = await change(async () => {
      if (JSON.stringify(view.terms) !== JSON.stringify(found.data.terms)) {
        await ask(api.PUT('/api/lessons/{id}', { ...path, body: view.terms }));
      }
      await ask(api.PUT('/api/lessons/{id}/folder', { ...path, body: filed }));
    });
    if (done) onClose();
  };
  const set = (part: Partial<View['terms']>) => view && setChanged({ ...view, terms: { ...view.terms, ...part } });
  const tools = view?.terms.purpose === 'tools';
  const task = view?.terms.task;
  const asks = task?.kind === 'predict' ? task : undefined;
  const finds = !task || task.kind === 'diagnose';
  return (
    <Modal
      title={`Change ${lesson.title}`}
      className="high-modal"
      open
      okText="Save"
      okButtonProps={{ id: 'save-change', disabled: !view }}
      onOk={() => void save()}
      onCancel={onClose}
    >
      {found.error && <p className="error-line">{found.error.message}</p>}
      {view && usual && (
        <div className="stack">
          <p className="quiet tight">
            Machine and fault stay as they are: for others, make another lesson.{' '}
            {begun > 0 && `${begun} of its attempts were begun and keep the lesson as it was; the others move on.`}
          </p>
          <label>
            <span className="field-label">Title</span>
            <Input id="edit-title" value={view.terms.title} onChange={(e) => set({ title: e.target.value })} />
          </label>
          <label>
            <span className="field-label">
              {finds ? 'Complaint in the customer’s words' : 'What the students read first'}
            </span>
            <Input.TextArea
              id="edit-words"
              rows={2}
              value={view.terms.complaint}
              onChange={(e) => set({ complaint: e.target.value })}
            />
          </label>
          {!tools && (
            <>
              {asks && <AskedReadings task={asks} onChange={(task) => set({ task })} />}
              {task && !asks && !finds && <AskedRows task={task} onChange={(task) => set({ task })} />}
              {finds && <JobOf job={view.terms.job ?? 'complaint'} onChange={(job) => set({ job })} />}
              <Checkbox
                checked={view.terms.purpose === 'practice'}
                onChange={(e) => set({ purpose: e.target.checked ? 'practice' : 'marks' })}
              >
                {!finds ? 'For practice: no marks' : 'For practice: no marks, and hints that cost minutes'}
              </Checkbox>
              {finds && (
                <Checkbox checked={view.terms.predictions} onChange={(e) => set({ predictions: e.target.checked })}>
                  Ask for a prediction before each reading
                </Checkbox>
              )}
            </>
          )}
          <RuleSets
            reused={{
              predictions: view.terms.predictions,
              functions: view.terms.functions,
              rules: view.terms.rules,
            }}
            onTake={set}
          />
          <label>
            <span className="field-label">Instruments</span>
            <Select
              mode="multiple"
              className="whole-width"
              maxTagCount={5}
              value={view.terms.functions}
              onChange={(functions) => set({ functions })}
              options={instruments.map((i) => ({ value: i.function, label: i.label }))}
            />
          </label>
          <LessonRules
            rules={view.terms.rules}
            onChange={(rules) => set({ rules })}
            usual={usual}
            marked={view.terms.purpose === 'marks'}
            finds={finds && !tools}
          />
          {finds && !tools && <ToldOf told={view.terms.told ?? {}} onChange={(told) => set({ told })} usual={usual} />}
          <PageBefore intro={view.terms.intro} onChange={(intro) => set({ intro })} />
          <label>
            <span className="field-label">Skills that it practises; students see them with the mark sheet</span>
            <Select
              id="edit-skills"
              mode="multiple"
              className="whole-width"
              value={view.terms.skills ?? []}
              onChange={(skills) => set({ skills })}
              options={skills.data?.map((s) => ({ value: s.id, label: s.name }))}
            />
          </label>
          <label>
            <span className="field-label">Folder</span>
            <Input
              id="edit-folder"
              value={view.folder}
              onChange={(e) => setChanged({ ...view, folder: e.target.value })}
            />
          </label>
          <div role="alert" className="error-line">
            {error}
          </div>
        </div>
      )}
    </Modal>
  );
}

type Intro = View['terms']['intro'];

/** What the students read before they begin; empty where there is no such page. */
function PageBefore({ intro, onChange }: { intro: Intro; onChange: (intro: Intro) => void }) {
  const { goal = '', know = '' } = intro ?? {};
  const set = (part: { goal?: string; know?: string }) => {
    const next = { ...intro, goal, know, ...part };
    onChange(next.goal || next.know || next.picture ? next : null);
  };
  return (
    <>
      <label>
        <span className="field-label">Goal, as the page before the bench says it; it must not narrow the fault</span>
        <Input id="edit-goal" value={goal} onChange={(e) => set({ goal: e.target.value })} />
      </label>
      <label>
        <span className="field-label">What to know, in plain words</span>
        <Input.TextArea id="edit-know" autoSize value={know} onChange={(e) => set({ know: e.target.value })} />
      </label>
    </>
  );
}
