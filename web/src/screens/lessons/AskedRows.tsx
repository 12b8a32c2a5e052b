// What a lesson's test sheet is of: places of a survey and harnesses of a check sheet can be left out.
import { Button } from 'antd';

import type { Schemas } from '../../api/client';

type Task = Schemas['Task'];

export function AskedRows({ task, onChange }: { task: Task; onChange: (task: Task) => void }) {
  switch (task.kind) {
    case 'survey':
      return <Listed title="Places that are surveyed" all={task.of} onChange={(of) => onChange({ ...task, of })} />;
    case 'check_sheet':
      return (
        <Listed
          title="Harnesses that are checked"
          all={task.harnesses}
          onChange={(harnesses) => onChange({ ...task, harnesses })}
        />
      );
    case 'identify':
      return (
        <p className="quiet tight">
          The students tell the leads of {task.connector}, half “{task.half}”, apart.
        </p>
      );
    case 'build':
      return (
        <p className="quiet tight">
          The students wire it; {task.given?.length ?? 0} wires are in already
          {task.by_list && ', and they get the wire list'}.
        </p>
      );
    default:
      return null;
  }
}

type ListedProps = { title: string; all: string[]; onChange: (all: string[]) => void };

function Listed({ title, all, onChange }: ListedProps) {
  return (
    <section aria-label={title}>
      <span className="field-label">{title}</span>
      <ol>
        {all.map((id) => (
          <li key={id}>
            <span className="mono">{id}</span>{' '}
            <Button
              size="small"
              disabled={all.length === 1}
              aria-label={`Leave out: ${id}`}
              onClick={() => onChange(all.filter((other) => other !== id))}
            >
              Leave out
            </Button>
          </li>
        ))}
      </ol>
    </section>
  );
}
