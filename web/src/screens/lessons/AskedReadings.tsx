// The readings that a lesson asks its students to predict: put in another order, or left out.
import { Button } from 'antd';

import type { Schemas } from '../../api/client';
import { useInstrument } from '../../app/instruments';
import { ReasonMarks } from './ReasonMarks';

type Task = Extract<Schemas['Task'], { kind: 'predict' }>;

export function AskedReadings({ task, onChange }: { task: Task; onChange: (task: Task) => void }) {
  const instrument = useInstrument();
  const move = (n: number) => {
    const ask = [...task.ask];
    const [taken] = ask.splice(n, 1);
    if (taken) ask.splice(n - 1, 0, taken);
    onChange({ ...task, ask });
  };
  return (
    <section aria-label="Readings that are asked for">
      <span className="field-label">Readings that are asked for</span>
      <ol>
        {task.ask.map((a, n) => {
          const name = `reading ${n + 1}`;
          return (
            <li key={`${a.function} ${a.red} ${a.black ?? ''} ${JSON.stringify(a.state)}`}>
              {instrument(a.function).label}{' '}
              <span className="mono">
                {a.red}
                {a.black && ` → ${a.black}`}
              </span>{' '}
              <Button size="small" disabled={n === 0} aria-label={`Earlier: ${name}`} onClick={() => move(n)}>
                Earlier
              </Button>{' '}
              <Button
                size="small"
                disabled={task.ask.length === 1}
                aria-label={`Leave out: ${name}`}
                onClick={() => onChange({ ...task, ask: task.ask.filter((_, m) => m !== n) })}
              >
                Leave out
              </Button>
            </li>
          );
        })}
      </ol>
      <ReasonMarks
        id="edit-reason-marks"
        value={task.reason_marks ?? 0}
        onChange={(reason_marks) => onChange({ ...task, reason_marks })}
      />
    </section>
  );
}
