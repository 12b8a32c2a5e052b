// Changing one's own password.
import { Button, Input, Modal } from 'antd';
import { useState } from 'react';

import { api, ask, sentenceOf } from '../api/client';
import { SignIns } from './SignIns';

export function OwnPassword({ display }: { display: string }) {
  const [open, setOpen] = useState(false);
  const [old, setOld] = useState('');
  const [fresh, setFresh] = useState('');
  const [again, setAgain] = useState('');
  const [said, setSaid] = useState<{ error: boolean; text: string }>();
  const close = () => {
    setOpen(false);
    setOld('');
    setFresh('');
    setAgain('');
    setSaid(undefined);
  };
  const change = async () => {
    if (fresh !== again) {
      setSaid({ error: true, text: 'The two new passwords differ: type the same twice.' });
      return;
    }
    try {
      await ask(api.PUT('/api/me/password', { body: { old, new: fresh } }));
      setOld('');
      setFresh('');
      setAgain('');
      setSaid({ error: false, text: 'Changed. On other computers you have to sign in again.' });
    } catch (e) {
      setSaid({ error: true, text: sentenceOf(e) });
    }
  };
  const field = (id: string, label: string, value: string, set: (value: string) => void, complete: string) => (
    <label>
      <span className="field-label">{label}</span>
      <Input
        id={id}
        type="password"
        value={value}
        onChange={(e) => set(e.target.value)}
        autoComplete={complete}
        onPressEnter={() => void change()}
      />
    </label>
  );
  return (
    <>
      <Button
        id="own-password"
        size="small"
        className="pill"
        title="Your password and where you are signed in"
        onClick={() => setOpen(true)}
      >
        {display}
      </Button>
      <Modal
        open={open}
        title="Your password and where you are signed in"
        okText="Change"
        okButtonProps={{ id: 'change-password', disabled: old === '' || fresh === '' }}
        cancelText="Close"
        onOk={() => void change()}
        onCancel={close}
        destroyOnHidden
      >
        <div className="stack">
          {field('old-password', 'Present password', old, setOld, 'current-password')}
          {field('new-password', 'New password, at least 8 characters', fresh, setFresh, 'new-password')}
          {field('new-password-again', 'The new password again', again, setAgain, 'new-password')}
          <div role={said?.error ? 'alert' : 'status'} className={said?.error ? 'error-line' : undefined}>
            {said?.text}
          </div>
          <p className="close">
            All of your work to take along:{' '}
            <a href="/api/me/work.html" download>
              to read
            </a>{' '}
            ·{' '}
            <a href="/api/me/work" download>
              as JSON
            </a>
          </p>
          <SignIns />
        </div>
      </Modal>
    </>
  );
}
