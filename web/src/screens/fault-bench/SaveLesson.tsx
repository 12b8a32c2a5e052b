// Saving the bench as a lesson and giving it to students.
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Button, Checkbox, Input, Modal } from 'antd';
import { useState } from 'react';
import { Link } from 'react-router';

import { api, ask, type FaultBenchView, type FaultDoc } from '../../api/client';

type Props = { circuit: number; title: string; faults: FaultDoc[]; view: FaultBenchView };

export function SaveLesson({ circuit, title, faults, view }: Props) {
  const queries = useQueryClient();
  const [open, setOpen] = useState(false);
  const [name, setName] = useState('');
  const [words, setWords] = useState('');
  const [chosen, setChosen] = useState<number[]>([]);
  const [predictions, setPredictions] = useState(true);
  const [error, setError] = useState('');
  const [saved, setSaved] = useState('');
  const students = useQuery({
    queryKey: ['students'],
    queryFn: () => ask(api.GET('/api/students')),
    enabled: open,
  });
  const begin = () => {
    setName(`${title.split(',')[0]}: ${view.complaint.text.split('.')[0]?.toLowerCase()}`);
    setWords('');
    setChosen([]);
    setError('');
    setSaved('');
    setOpen(true);
  };
  const save = async () => {
    try {
      const body = { title: name, complaint: words || view.complaint.text, circuit, faults, predictions };
      const lesson = await ask(api.POST('/api/lessons', { body }));
      await ask(api.POST('/api/lessons/{id}/give', { params: { path: { id: lesson.id } }, body: { students: chosen } }));
      await queries.invalidateQueries({ queryKey: ['lessons'] });
      setSaved(`Saved as “${name}” and given to ${chosen.length} ${chosen.length === 1 ? 'student' : 'students'}.`);
      setOpen(false);
    } catch (e) {
      setError((e as Error).message);
    }
  };
  return (
    <section aria-label="Lesson">
      <div className="row">
        <Button id="save-lesson" disabled={faults.length === 0 || !view.shows} onClick={begin}>
          Save as a lesson
        </Button>
        <span className="quiet" role="status">
          {saved ? (
            <>
              {saved} <Link to="/lessons">Lessons</Link>
            </>
          ) : faults.length === 0 ? (
            'Set a fault first.'
          ) : (
            !view.shows && 'This fault does not show.'
          )}
        </span>
      </div>
      <Modal
        title="Save as a lesson"
        open={open}
        onCancel={() => setOpen(false)}
        onOk={() => void save()}
        okText="Save and give out"
        okButtonProps={{ id: 'give-lesson' }}
        destroyOnHidden
      >
        <div style={{ display: 'grid', gap: 12 }}>
          <label>
            <span className="field-label">Title</span>
            <Input id="lesson-title" value={name} onChange={(e) => setName(e.target.value)} />
          </label>
          <label>
            <span className="field-label">Complaint in the customer’s words</span>
            <Input.TextArea
              id="lesson-words"
              rows={2}
              value={words}
              placeholder={view.complaint.text}
              onChange={(e) => setWords(e.target.value)}
            />
          </label>
          <p className="quiet" style={{ margin: 0 }}>
            Computed symptom: {view.complaint.text}
          </p>
          <Checkbox checked={predictions} onChange={(e) => setPredictions(e.target.checked)}>
            Ask for a prediction before each reading
          </Checkbox>
          <fieldset style={{ border: '1px solid var(--rule)', borderRadius: 6 }}>
            <legend>Give to</legend>
            {students.data?.length === 0 && <span className="quiet">There are no students yet.</span>}
            <Checkbox.Group
              value={chosen}
              onChange={(v) => setChosen(v.map(Number))}
              options={students.data?.map((s) => ({ value: s.id, label: s.display })) ?? []}
            />
          </fieldset>
          <div role="alert" className="error-line">
            {error}
          </div>
        </div>
      </Modal>
    </section>
  );
}
