// The page that a lesson begins with: its goal, what to know with one small picture, and the cautions.
import { Button } from 'antd';

import type { AttemptView, Schemas } from '../../api/client';
import { Shell } from '../../app/Shell';
import { Staircase } from '../../staircase/Staircase';
import './Before.css';

type Shown = Schemas['IntroShown'];

/** Volts that the picture leaves free above the highest step. */
const HEADROOM_V = 1.5;

export function Before({ attempt, intro, onBegin }: { attempt: AttemptView; intro: Shown; onBegin: () => void }) {
  return (
    <Shell crumbs={[{ text: 'Bench', to: '/attempts' }, { text: attempt.title }]}>
      <main className="page before" tabIndex={0} id="before">
        <h1>{attempt.title}</h1>
        <Intro intro={intro} />
        <h2>Cautions</h2>
        <ul className="spaced-list">
          {attempt.cautions.map((c) => (
            <li key={c}>{c}</li>
          ))}
        </ul>
        <Button type="primary" size="large" id="begin" ref={(button) => button?.focus()} onClick={onBegin}>
          To the bench
        </Button>
      </main>
    </Shell>
  );
}

export function Intro({ intro }: { intro: Shown }) {
  const { picture } = intro;
  return (
    <div className="intro">
      <p className="goal">{intro.goal}</p>
      <p>{intro.know}</p>
      {picture && (
        <figure>
          <Picture picture={picture} />
          <figcaption className="quiet">
            {picture.title}
            {picture.faulted && ' (dotted: the same circuit when it is sound)'}
          </figcaption>
        </figure>
      )}
    </div>
  );
}

function Picture({ picture }: { picture: NonNullable<Shown['picture']> }) {
  const { stairs } = picture.staircase;
  const top = Math.max(...stairs.map((s) => Math.max(s.healthy_v, s.faulted_v))) + HEADROOM_V;
  const points = stairs.map((s) => ({
    point: s.point,
    line: picture.faulted ? s.faulted_v : s.healthy_v,
    dotted: picture.faulted ? s.healthy_v : undefined,
  }));
  return <Staircase label={picture.title} points={points} top={top} />;
}
