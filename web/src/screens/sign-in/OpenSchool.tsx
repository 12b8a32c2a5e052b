// The first visit: a school is opened with whoever looks after it.
import { useQueryClient } from '@tanstack/react-query';
import { Button, Input } from 'antd';
import { useState, type FormEvent } from 'react';

import { api, ask, sentenceOf } from '../../api/client';
import './SignIn.css';

const EMPTY = { school: '', display: '', name: '', password: '', code: '' };

export function OpenSchool({ onOpen }: { onOpen: () => void }) {
  const queries = useQueryClient();
  const [given, setGiven] = useState(EMPTY);
  const [again, setAgain] = useState('');
  const [error, setError] = useState('');
  const open = async (e: FormEvent) => {
    e.preventDefault();
    if (given.password !== again) {
      setError('The two passwords differ: type the same twice.');
      return;
    }
    try {
      await ask(api.POST('/api/school', { body: given }));
      const { name, password } = given;
      queries.setQueryData(['me'], await ask(api.POST('/api/sign-in', { body: { name, password } })));
      onOpen();
    } catch (e) {
      setError(sentenceOf(e));
    }
  };
  const field = (id: keyof typeof EMPTY, label: string, complete = 'off', type = 'text') => (
    <label>
      <span className="field-label">{label}</span>
      <Input
        id={`open-${id}`}
        type={type}
        value={given[id]}
        autoComplete={complete}
        onChange={(e) => setGiven({ ...given, [id]: e.target.value })}
      />
    </label>
  );
  const whole = Object.values(given).every((text) => text.trim() !== '');
  return (
    <main className="page sign-in">
      <h1>
        <i aria-hidden />
        Open your school
      </h1>
      <p className="quiet">
        Nobody is here yet. Whoever opens the school looks after its people, and teaches too; others come later.
      </p>
      <form onSubmit={(e) => void open(e)} className="stack">
        {field('school', 'Name of the school', 'organization')}
        {field('display', 'Your name, as others see it', 'name')}
        {field('name', 'A name to sign in with', 'username')}
        {field('password', 'A password, at least 8 characters', 'new-password', 'password')}
        <label>
          <span className="field-label">The password again</span>
          <Input
            id="open-again"
            type="password"
            value={again}
            autoComplete="new-password"
            onChange={(e) => setAgain(e.target.value)}
          />
        </label>
        {field('code', 'The code that the server printed when it started')}
        <Button id="open-now" type="primary" htmlType="submit" disabled={!whole}>
          Open the school
        </Button>
        <div role="alert" className="error-line">
          {error}
        </div>
      </form>
    </main>
  );
}
