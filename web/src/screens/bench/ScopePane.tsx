// The oscilloscope in the place of the staircase: its controls, and its latest screen.
import { Button } from 'antd';

import type { Action, AttemptView, Verdict } from '../../api/client';
import { Controls } from '../../scope/Controls';
import { Shot } from '../../scope/Shot';
import { SCREEN_VERDICTS } from './verdicts';
import './ScopePane.css';
import './verdicts.css';

type Props = {
  id: number;
  attempt: AttemptView;
  busy: boolean;
  focused: boolean;
  act: (action: Action) => Promise<unknown>;
  onJudge: (verdict: Verdict) => void;
  onBack: () => void;
};

export function ScopePane({ id, attempt, busy, focused, act, onJudge, onBack }: Props) {
  const view = attempt.bench;
  const shot = view.captures.at(-1);
  const against = ` to ${attempt.drawing.negative ?? ''}`;
  const earlier = view.captures.slice(0, -1).map((c) => ({
    label: `step ${c.step}: ${c.capture.traces.map((t) => t.name.replace(against, '')).join(', ')}`,
    capture: c.capture,
  }));
  const back = (
    <Button size="small" type="text" onClick={onBack}>
      Back to the path <kbd>S</kbd>
    </Button>
  );
  return (
    <div className="stairs" id="scope">
      <Controls
        drawing={attempt.drawing}
        sweeps={attempt.sweeps}
        busy={busy || view.handed_in}
        predictions={attempt.predictions}
        attempt={{ id, steps: view.steps }}
        focused={focused}
        onCapture={(scope, expected) => act({ do: 'capture', scope, expected })}
      />
      {shot ? (
        <Shot
          key={shot.step}
          capture={shot.capture}
          earlier={earlier}
          height={shot.capture.traces.length > 2 ? 186 : 216}
        >
          {back}
          <a href={`/api/attempts/${id}/captures/${shot.step}`} download>
            as CSV
          </a>
          <span className="verdicts" role="group" aria-label="Verdict on the screen">
            {SCREEN_VERDICTS.map(([verdict, text], n) => (
              <button
                key={verdict}
                type="button"
                aria-pressed={shot.verdict === verdict}
                disabled={view.handed_in}
                onClick={() => onJudge(verdict)}
                title={`key ${n + 1}`}
              >
                {text}
              </button>
            ))}
          </span>
          <span className="quiet cut" title={shot.capture.state}>
            {shot.capture.state}
          </span>
        </Shot>
      ) : (
        <>
          <p className="quiet">
            Choose what each channel is put to, and capture. The machine has to turn for anything to move.
          </p>
          {back}
        </>
      )}
    </div>
  );
}
