// What is seldom done with somebody's record: a link to set a password by, all of their work, two records that are of
// one student, and erasing it for good.
import { useQueryClient } from '@tanstack/react-query';
import { Button, Dropdown, Input, Modal, Select } from 'antd';
import { useState } from 'react';

import { api, ask, sentenceOf, type Schemas } from '../../api/client';

type Person = Schemas['PersonView'];
type What = 'link' | 'merge' | 'erase';

type Props = { person: Person; people: Person[]; administers: boolean };

export function PersonMore({ person, people, administers }: Props) {
  const [what, setWhat] = useState<What>();
  const student = person.roles.join() === 'student';
  const items = [
    ...(person.left ? [] : [{ key: 'link', label: 'Link to set a password' }]),
    ...(administers
      ? [
          {
            key: 'page',
            label: (
              <a href={`/api/people/${person.id}/work.html`} download>
                All of their work, to read
              </a>
            ),
          },
          {
            key: 'file',
            label: (
              <a href={`/api/people/${person.id}/work`} download>
                All of their work, as JSON
              </a>
            ),
          },
        ]
      : []),
    ...(administers && student
      ? [
          { key: 'merge', label: 'Is the same student as …' },
          { key: 'erase', label: 'Erase for good …', danger: true },
        ]
      : []),
  ];
  if (items.length === 0) return null;
  const close = () => setWhat(undefined);
  return (
    <>
      <Dropdown
        trigger={['click']}
        menu={{
          items,
          onClick: ({ key }) => (key === 'link' || key === 'merge' || key === 'erase') && setWhat(key),
        }}
      >
        <Button type="link" size="small" aria-label={`More: ${person.display}`} aria-haspopup="menu">
          More
        </Button>
      </Dropdown>
      {what === 'link' && <PasswordLink person={person} onClose={close} />}
      {what === 'merge' && <Merge person={person} people={people} onClose={close} />}
      {what === 'erase' && <Erase person={person} onClose={close} />}
    </>
  );
}

/** Does something to somebody, says what went wrong, and closes when it is done. */
function useDoing(onDone: () => void) {
  const queries = useQueryClient();
  const [error, setError] = useState('');
  const run = async (what: () => Promise<unknown>) => {
    setError('');
    try {
      await what();
      await Promise.all(
        ['people', 'classes', 'book', 'audit'].map((key) => queries.invalidateQueries({ queryKey: [key] })),
      );
      onDone();
    } catch (e) {
      setError(sentenceOf(e));
    }
  };
  return { run, error };
}

function PasswordLink({ person, onClose }: { person: Person; onClose: () => void }) {
  const [link, setLink] = useState('');
  const { run, error } = useDoing(() => undefined);
  const make = () =>
    run(async () => {
      const made = await ask(api.POST('/api/people/{id}/reset-link', { params: { path: { id: person.id } } }));
      setLink(new URL(made.path, window.location.href).href);
    });
  return (
    <Modal
      title={`A link for ${person.display}`}
      open
      onCancel={onClose}
      okText={link ? 'Done' : 'Make the link'}
      okButtonProps={{ id: 'make-link' }}
      onOk={() => (link ? onClose() : void make())}
    >
      <p>
        Whoever opens it sets a new password for {person.display}. It works once and within three days; an earlier link
        holds no more. Give it to nobody else.
      </p>
      {link && (
        <label>
          <span className="field-label">Link</span>
          <Input id="the-link" readOnly value={link} onFocus={(e) => e.target.select()} />
        </label>
      )}
      {error && <p className="error-line">{error}</p>}
    </Modal>
  );
}

function Merge({ person, people, onClose }: { person: Person; people: Person[]; onClose: () => void }) {
  const [into, setInto] = useState<number>();
  const { run, error } = useDoing(onClose);
  const others = people.filter((p) => p.id !== person.id && p.roles.join() === 'student');
  const other = others.find((p) => p.id === into);
  return (
    <Modal
      title={`${person.display} is the same student as …`}
      open
      onCancel={onClose}
      okText={other ? `Make them one: ${other.display}` : 'Make them one'}
      okButtonProps={{ id: 'merge', disabled: !other }}
      onOk={() =>
        into !== undefined &&
        void run(() => ask(api.POST('/api/people/{id}/merge', { params: { path: { id: person.id } }, body: { into } })))
      }
    >
      <p>
        Work, classes and marks of {person.display} ({person.name}) become those of the one chosen here, who keeps their
        name and password. {person.name} is gone then. That can’t be undone.
      </p>
      <Select
        id="merge-into"
        aria-label="Who stays"
        className="into-class"
        showSearch={{ optionFilterProp: 'label' }}
        value={into}
        placeholder="who stays"
        options={others.map((p) => ({ value: p.id, label: `${p.display} (${p.name})` }))}
        onChange={setInto}
      />
      {error && <p className="error-line">{error}</p>}
    </Modal>
  );
}

function Erase({ person, onClose }: { person: Person; onClose: () => void }) {
  const [typed, setTyped] = useState('');
  const { run, error } = useDoing(onClose);
  return (
    <Modal
      title={`Erase ${person.display} for good?`}
      open
      onCancel={onClose}
      okText="Erase for good"
      okButtonProps={{ id: 'erase', danger: true, disabled: typed.trim() !== person.name }}
      onOk={() => void run(() => ask(api.DELETE('/api/people/{id}', { params: { path: { id: person.id } } })))}
    >
      <p>
        Every attempt, reading and mark of {person.display} goes, and their name with it. That can’t be undone; copies
        in backups go when the backups do. Take their work along first if anybody may ask for it.
      </p>
      <label>
        <span className="field-label">Type {person.name} to go on</span>
        <Input id="erase-name" value={typed} onChange={(e) => setTyped(e.target.value)} autoComplete="off" />
      </label>
      {error && <p className="error-line">{error}</p>}
    </Modal>
  );
}
