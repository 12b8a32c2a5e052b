// What the class is asked to predict, with one's own answer, and the reading once it is shown.
import { Button } from 'antd';
import { useState, type FormEvent } from 'react';

import { api, ask, sentenceOf, type Schemas } from '../../api/client';
import './Strip.css';

export function VoteCard({ attempt, vote }: { attempt: number; vote: Schemas['HeardVote'] }) {
  const [typed, setTyped] = useState('');
  const [error, setError] = useState('');
  const answer = async (e: FormEvent) => {
    e.preventDefault();
    setError('');
    try {
      const body = { expected: typed };
      await ask(api.PUT('/api/attempts/{id}/vote', { params: { path: { id: attempt } }, body }));
      setTyped('');
    } catch (e) {
      setError(sentenceOf(e));
    }
  };
  return (
    <section className="strip vote-card" aria-label="The class is asked">
      <p className="tight">
        <b>The class is asked:</b> {vote.text}
      </p>
      {vote.shown ? (
        <p className="tight">
          The meter shows <b className="mono">{vote.shown}</b>
          {vote.own && (
            <>
              ; you said <span className="mono">{vote.own}</span>:{' '}
              <span className={vote.right ? 'good' : 'bad'}>{vote.right ? 'right' : 'not so'}</span>
            </>
          )}
        </p>
      ) : (
        <form className="row" onSubmit={(e) => void answer(e)}>
          <label className="row">
            <span>I expect, in {vote.unit || 'words'}</span>
            <input
              id="vote-expected"
              className="text-field"
              value={typed}
              placeholder={vote.own ?? ''}
              onChange={(e) => setTyped(e.target.value)}
            />
          </label>
          <Button htmlType="submit" disabled={typed.trim() === ''}>
            {vote.own ? 'Say otherwise' : 'Say it'}
          </Button>
          {vote.own && (
            <span className="quiet">
              You said <span className="mono">{vote.own}</span>.
            </span>
          )}
        </form>
      )}
      <div role="alert" className="error-line">
        {error}
      </div>
    </section>
  );
}
