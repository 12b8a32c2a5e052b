// A new password by a link that an instructor or administrator made.
import { useMutation } from '@tanstack/react-query';
import { Button, Input } from 'antd';
import { useState } from 'react';
import { useLocation } from 'react-router';

import { api, ask, sentenceOf } from '../../api/client';
import './SignIn.css';

export function NewPassword() {
  // Behind the # nothing of it is sent with requests, nor kept in a log.
  const token = useLocation().hash.slice(1);
  const [password, setPassword] = useState('');
  const [again, setAgain] = useState('');
  const save = useMutation({
    mutationFn: () => ask(api.POST('/api/new-password', { body: { token, password } })),
  });
  const field = (id: string, label: string, value: string, set: (value: string) => void) => (
    <label>
      <span className="field-label">{label}</span>
      <Input id={id} type="password" autoComplete="new-password" value={value} onChange={(e) => set(e.target.value)} />
    </label>
  );
  const differs = again !== '' && again !== password;
  return (
    <main className="page sign-in">
      <h1>
        <i aria-hidden />
        Cimento
      </h1>
      {save.data ? (
        <>
          <p role="status">
            It is set. You sign in as <b id="signs-in-as">{save.data.name}</b>.
          </p>
          <p>
            <a href="/">Sign in</a>
          </p>
        </>
      ) : (
        <form
          className="stack"
          onSubmit={(e) => {
            e.preventDefault();
            save.mutate();
          }}
        >
          {field('new-password', 'New password, of at least 8 characters', password, setPassword)}
          {field('new-password-again', 'The same again', again, setAgain)}
          <div role="alert" className="error-line">
            {differs ? 'The two differ.' : save.error ? sentenceOf(save.error) : ''}
          </div>
          <Button
            id="set-password"
            type="primary"
            htmlType="submit"
            loading={save.isPending}
            disabled={password === '' || again !== password}
          >
            Set it
          </Button>
        </form>
      )}
    </main>
  );
}
