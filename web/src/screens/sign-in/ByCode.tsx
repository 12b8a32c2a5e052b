// Signing in by the code of a class and a PIN.
import { useQueryClient } from '@tanstack/react-query';
import { Button, Input } from 'antd';
import { useEffect, useRef, useState, type FormEvent } from 'react';

import { api, ask, sentenceOf, type Schemas } from '../../api/client';

type Class = Schemas['CodedClassView'];
type Student = Class['students'][number];

export function ByCode({ onBack }: { onBack: () => void }) {
  const queries = useQueryClient();
  const [code, setCode] = useState('');
  const [klass, setKlass] = useState<Class>();
  const [who, setWho] = useState<Student>();
  const [pin, setPin] = useState('');
  const [error, setError] = useState('');
  const attempt = async (what: () => Promise<void>) => {
    setError('');
    try {
      await what();
    } catch (e) {
      setError(sentenceOf(e));
    }
  };
  const look = (e: FormEvent) => {
    e.preventDefault();
    void attempt(async () => setKlass(await ask(api.POST('/api/class-code', { body: { code } }))));
  };
  const signIn = (e: FormEvent) => {
    e.preventDefault();
    if (!who) return;
    const body = { code, person: who.id, pin };
    void attempt(async () => {
      queries.setQueryData(['me'], await ask(api.POST('/api/class-code/sign-in', { body })));
    });
  };
  // What is asked next is where one types.
  const field = useRef<HTMLDivElement>(null);
  useEffect(() => field.current?.querySelector('input')?.focus(), [klass, who]);
  return (
    <div className="stack by-code" ref={field}>
      {!klass && (
        <form className="stack" onSubmit={look}>
          <label>
            <span className="field-label">Code of your class</span>
            <Input id="class-code" value={code} autoComplete="off" onChange={(e) => setCode(e.target.value)} />
          </label>
          <Button type="primary" htmlType="submit" disabled={code.trim() === ''}>
            Go on
          </Button>
        </form>
      )}
      {klass && !who && (
        <>
          <p className="tight">{klass.name}: who are you?</p>
          {klass.students.length === 0 && <p className="quiet">Nobody is in this class yet.</p>}
          <ul className="names" aria-label="Names">
            {klass.students.map((s) => (
              <li key={s.id}>
                <Button onClick={() => setWho(s)}>{s.display}</Button>
              </li>
            ))}
          </ul>
        </>
      )}
      {klass && who && (
        <form className="stack" onSubmit={signIn}>
          <label>
            <span className="field-label">
              {who.has_pin ? `PIN of ${who.display}` : `${who.display}: think of a PIN of 4 to 8 digits`}
            </span>
            <Input
              id="pin"
              type="password"
              inputMode="numeric"
              value={pin}
              autoComplete="off"
              onChange={(e) => setPin(e.target.value)}
            />
          </label>
          <div className="row">
            <Button type="primary" htmlType="submit" disabled={pin === ''}>
              Sign in
            </Button>
            <Button
              onClick={() => {
                setWho(undefined);
                setPin('');
                setError('');
              }}
            >
              I am somebody else
            </Button>
          </div>
        </form>
      )}
      <div role="alert" className="error-line">
        {error}
      </div>
      <Button type="link" className="to-password" onClick={onBack}>
        Sign in with a password
      </Button>
    </div>
  );
}
