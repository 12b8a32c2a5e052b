// What the student has cleared and what is held suspect: along the path in view, or by name.
import { Button, Select } from 'antd';
import { useState } from 'react';

import type { Action, AttemptView } from '../../api/client';

type Props = {
  attempt: AttemptView;
  /** Index of the path in view. */
  path: number;
  act: (action: Action) => Promise<unknown>;
};

export function Suspicions({ attempt, path, act }: Props) {
  const { cleared, suspected, handed_in: closed } = attempt.bench;
  const [chosen, setChosen] = useState<string[]>([]);
  const along = throughs(attempt, path);
  const claim = async (kind: 'clear' | 'suspect', places: string[]) => {
    if (places.length === 0) return;
    if (await act({ do: kind, places })) setChosen([]);
  };
  const expand = (values: string[]) =>
    setChosen([...new Set(values.flatMap((v) => (v.startsWith('path:') ? throughs(attempt, Number(v.slice(5))) : [v])))]);
  const state = (id: string) => (cleared.includes(id) ? 'cleared' : suspected.includes(id) ? 'suspect' : 'open');
  return (
    <section aria-label="Suspects">
      <h2 style={{ marginBottom: 4 }}>
        Ruled out{' '}
        <span className="quiet" style={{ fontWeight: 400 }}>
          {cleared.length} cleared · {suspected.length} suspect
        </span>
      </h2>
      <div className="chips" role="group" aria-label="Places along the path">
        {along.map((id) => (
          <button
            key={id}
            type="button"
            className={`chip ${state(id)}`}
            disabled={closed}
            title={`${id}: ${attempt.places.find((p) => p.id === id)?.about ?? ''}. Click: cleared, again: suspect`}
            onClick={() => void claim(state(id) === 'cleared' ? 'suspect' : 'clear', [id])}
          >
            {id}
          </button>
        ))}
      </div>
      <div className="row" style={{ marginTop: 6, alignItems: 'flex-start' }}>
        <Select
          id="claim-places"
          aria-label="Places to clear or suspect"
          mode="multiple"
          style={{ flex: 1, minWidth: 0 }}
          showSearch={{ optionFilterProp: 'label' }}
          placeholder="Places or a whole branch  [C]"
          maxTagCount={2}
          disabled={closed}
          value={chosen}
          onChange={expand}
          options={[
            { label: 'Branches', options: attempt.paths.map((p, n) => ({ value: `path:${n}`, label: `whole branch: ${p.title}` })) },
            { label: 'Places', options: attempt.places.map((p) => ({ value: p.id, label: `${p.id} · ${p.about}` })) },
          ]}
        />
        <Button id="clear-places" disabled={closed || chosen.length === 0} onClick={() => void claim('clear', chosen)}>
          Clear
        </Button>
        <Button id="suspect-places" disabled={closed || chosen.length === 0} onClick={() => void claim('suspect', chosen)}>
          Suspect
        </Button>
      </div>
    </section>
  );
}

/** The places passed along a path, each once. */
function throughs(attempt: AttemptView, path: number): string[] {
  const known = new Set(attempt.places.map((p) => p.id));
  const passed = attempt.paths[path]?.stops.flatMap((s) => (s.through && known.has(s.through) ? [s.through] : [])) ?? [];
  return [...new Set(passed)];
}
