// Signing in.
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Button, Checkbox, Input, type InputRef } from 'antd';
import { useEffect, useRef, useState, type FormEvent } from 'react';

import { api, ask, sentenceOf } from '../../api/client';
import { ByCode } from './ByCode';
import { OpenSchool } from './OpenSchool';
import './SignIn.css';

export function SignIn() {
  const school = useQuery({ queryKey: ['school'], queryFn: () => ask(api.GET('/api/school')), staleTime: Infinity });
  if (school.data?.to_open) return <OpenSchool onOpen={() => void school.refetch()} />;
  return <Form school={school.data?.name ?? ''} />;
}

function Form({ school }: { school: string }) {
  const queries = useQueryClient();
  const first = useRef<InputRef>(null);
  // Nothing else can be done here than to sign in.
  useEffect(() => first.current?.focus(), []);
  const [name, setName] = useState('');
  const [password, setPassword] = useState('');
  const [stay, setStay] = useState(false);
  const [coded, setCoded] = useState(false);
  const [error, setError] = useState('');
  const submit = async (e: FormEvent) => {
    e.preventDefault();
    try {
      const me = await ask(api.POST('/api/sign-in', { body: { name: name.trim(), password, stay } }));
      queries.setQueryData(['me'], me);
    } catch (e) {
      setError(sentenceOf(e));
    }
  };
  return (
    <main className="page sign-in">
      <h1>
        <i aria-hidden />
        Cimento
      </h1>
      <p className="quiet">
        {school || 'Simulated circuits, a bench to diagnose them on, and a mark for the reasoning.'}
      </p>
      {coded && <ByCode onBack={() => setCoded(false)} />}
      <form onSubmit={(e) => void submit(e)} className="stack" hidden={coded}>
        <label>
          <span className="field-label">Name</span>
          <Input ref={first} id="name" value={name} onChange={(e) => setName(e.target.value)} autoComplete="username" />
        </label>
        <label>
          <span className="field-label">Password</span>
          <Input
            id="password"
            type="password"
            value={password}
            onChange={(e) => setPassword(e.target.value)}
            autoComplete="current-password"
          />
        </label>
        <Checkbox id="stay" checked={stay} onChange={(e) => setStay(e.target.checked)}>
          Stay signed in for a fortnight: this computer is mine alone
        </Checkbox>
        <Button type="primary" htmlType="submit">
          Sign in
        </Button>
        <Button type="link" id="by-code" className="to-password" onClick={() => setCoded(true)}>
          I have a class code
        </Button>
        <div role="alert" className="error-line">
          {error}
        </div>
      </form>
      <Button type="link" className="to-password" href="/notices.txt" target="_blank">
        Licences and notices
      </Button>
    </main>
  );
}
