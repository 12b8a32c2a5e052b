// What the machine of a lesson comes in for.
import { Select } from 'antd';

import type { Schemas } from '../../api/client';

export type Job = NonNullable<Schemas['NewLesson']['job']>;

const JOBS: { value: Job; label: string }[] = [
  { value: 'complaint', label: 'with a complaint: something is noticed from the seat' },
  { value: 'check_up', label: 'for a check: measurements show what is out of order' },
  { value: 'check_up_or_sound', label: 'for a check, and it may be sound: “no fault found” is an answer' },
];

const TOOLS = 'healthy, to learn the tools on: nothing is marked';

/** What its machine allows: nobody complains of what is not noticed, and a sound machine can only be checked. */
function allowed(job: Job, sound: boolean, noticed: boolean): boolean {
  return sound ? job !== 'check_up' : noticed || job !== 'complaint';
}

type Props = { job: Job; onChange: (job: Job) => void; sound?: boolean; noticed?: boolean };

export function JobOf({ job, onChange, sound = false, noticed = true }: Props) {
  const among = JOBS.filter((j) => allowed(j.value, sound, noticed));
  return (
    <label>
      <span className="field-label">The machine comes in</span>
      <Select
        id="lesson-job"
        aria-label="The machine comes in"
        showSearch={{ optionFilterProp: 'label' }}
        className="whole-width"
        value={job}
        onChange={onChange}
        options={among.map((j) => (sound && j.value === 'complaint' ? { ...j, label: TOOLS } : j))}
      />
    </label>
  );
}
