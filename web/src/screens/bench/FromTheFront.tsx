// What is said from the front of the room, and that all benches stand still meanwhile.
import { Alert } from 'antd';
import { useState } from 'react';

import './FromTheFront.css';
import type { Heard } from './useHeard';
import { VoteCard } from './VoteCard';

/** Words older than this were heard at another time. */
const FRESH_S = 15 * 60;

export function FromTheFront({ attempt, heard: latest }: { attempt: number; heard?: Heard }) {
  const [read, setRead] = useState<number[]>([]);
  const [since] = useState(() => Date.now() / 1000 - FRESH_S);
  const words = latest?.words.filter((w) => w.at > since && !read.includes(w.id)) ?? [];
  return (
    <>
      <div className="from-the-front" role="status">
        {words.map((w) => (
          <Alert
            key={w.id}
            type="info"
            title={`${w.author}: ${w.said}`}
            closable={{ onClose: () => setRead((old) => [...old, w.id]), 'aria-label': 'Read' }}
          />
        ))}
      </div>
      {latest?.vote && <VoteCard attempt={attempt} vote={latest.vote} />}
      {latest?.paused && (
        <div className="eyes-up" role="alert">
          <p>Eyes up</p>
          <p>All benches stand still. They go on when your instructor says so.</p>
        </div>
      )}
    </>
  );
}
