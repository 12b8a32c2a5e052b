// The school's own records: chosen as files, told what they would change, and taken over.
import { Button, Modal } from 'antd';
import { useRef, useState } from 'react';

import { api, ask, type Schemas } from '../../api/client';
import { useChange } from '../classes/useClasses';

type Told = Schemas['RosterView'];

export function TakeRoster() {
  const choose = useRef<HTMLInputElement>(null);
  const [files, setFiles] = useState<Record<string, string>>();
  const [told, setTold] = useState<Told>();
  const [done, setDone] = useState('');
  const { change, error, setError } = useChange();
  const close = () => {
    setFiles(undefined);
    setTold(undefined);
    setError('');
  };
  const look = async (chosen: FileList) => {
    setDone('');
    const texts: Record<string, string> = {};
    for (const file of chosen) texts[file.name] = await file.text();
    setFiles(texts);
    await change(async () =>
      setTold(await ask(api.POST('/api/people/roster', { body: { files: texts, dry_run: true } }))),
    );
  };
  const take = async () => {
    if (!files) return;
    const taken = await change(() => ask(api.POST('/api/people/roster', { body: { files, dry_run: false } })));
    if (!taken) return;
    setDone(`Taken over: ${told?.changes.length ?? 0} changes.`);
    close();
  };
  return (
    <>
      <Button id="take-roster" onClick={() => choose.current?.click()}>
        Take over a roster
      </Button>
      <input
        ref={choose}
        id="roster-files"
        type="file"
        multiple
        accept=".csv"
        tabIndex={-1}
        className="visually-hidden"
        aria-label="Files of a roster: users.csv, classes.csv, enrollments.csv"
        onChange={(e) => {
          const chosen = e.target.files;
          if (chosen && chosen.length > 0) void look(chosen).then(() => (e.target.value = ''));
        }}
      />
      <span role="status" className="quiet">
        {done}
      </span>
      <Modal
        title="What this roster would change"
        className="high-modal"
        open={files !== undefined}
        okText={told?.changes.length === 0 ? 'Nothing to change' : 'Take it over'}
        okButtonProps={{ id: 'roster-take', disabled: !told || told.changes.length === 0 }}
        cancelText="Leave it"
        onOk={() => void take()}
        onCancel={close}
      >
        <pre role="alert" className="error-line roster-error">
          {error}
        </pre>
        {told && (
          <ul className="roster-changes">
            {told.changes.map((c, n) => (
              <li key={n}>
                <strong>{c.what}</strong> {c.about}
              </li>
            ))}
            {told.left_aside.map((text) => (
              <li key={text} className="quiet">
                left aside: {text}
              </li>
            ))}
          </ul>
        )}
        <p className="quiet">
          Files of OneRoster 1.1: users.csv, classes.csv, enrollments.csv, and what there is of manifest.csv, orgs.csv,
          academicSessions.csv. Who is no longer in them leaves; nobody’s work is touched.
        </p>
      </Modal>
    </>
  );
}
