// The readings that a lesson asks its students to predict: put in another order, or left out.
import { Button, InputNumber } from 'antd';

import type { Schemas } from '../../api/client';
import { useInstrument } from '../../app/instruments';

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
      <label className="row">
        <span>Marks of 100 for the reasons (0: none are asked for)</span>
        <InputNumber
          id="edit-reason-marks"
          min={0}
          max={100}
          value={task.reason_marks}
          onChange={(v) => onChange({ ...task, reason_marks: v ?? 0 })}
        />
      </label>
    </section>
  );
}
