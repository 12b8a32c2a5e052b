// Two at a bench: who works with whom.
import { Select } from 'antd';

import './Classes.css';
import { set, type Benches } from './pairs';
import type { Class } from './useClasses';

type Props = { students: Class['members']; benches: Benches; onChange: (benches: Benches) => void };

export function Pairs({ students, benches, onChange }: Props) {
  const options = [
    ...students.map((s) => ({ value: s.id, label: s.display })),
    { value: 0, label: 'nobody: works alone' },
  ];
  const place = (n: number) => (
    <Select
      aria-label={`Bench ${Math.floor(n / 2) + 1}, ${n % 2 === 0 ? 'one' : 'other'}`}
      className="of-two"
      value={benches[n] ?? 0}
      options={options}
      showSearch={{ optionFilterProp: 'label' }}
      onChange={(id) => onChange(set(benches, n, id === 0 ? null : id))}
    />
  );
  return (
    <ol className="pairs" aria-label="Two at a bench">
      {benches.map((_, n) =>
        n % 2 === 0 ? (
          <li key={n}>
            {place(n)} with {place(n + 1)}
          </li>
        ) : null,
      )}
    </ol>
  );
}
