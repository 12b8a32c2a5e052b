// What the student has cleared and what is held suspect: places are chosen along the path in view or by name, and
// then ruled out or held.
import { Button, Select } from 'antd';
import { forwardRef, useImperativeHandle, useRef, type ComponentRef } from 'react';

import type { Action, AttemptView } from '../../api/client';
import { useChoose, useIsLit, useLighting } from '../../diagram/chosen';
import { held, placesAlong } from './stairs';
import './Suspicions.css';

type Props = {
  attempt: AttemptView;
  /** Index of the path in view. */
  path: number;
  chosen: string[];
  onChoose: (places: string[]) => void;
  act: (action: Action) => Promise<unknown>;
};

export type SuspicionsHandle = { focus: () => void };

/** How a branch is written among the options. */
const BRANCH = 'path:';

export const Suspicions = forwardRef<SuspicionsHandle, Props>(function Suspicions(props, handle) {
  const { attempt, path, chosen, onChoose, act } = props;
  const { cleared, suspected, handed_in: closed } = attempt.bench;
  const field = useRef<ComponentRef<typeof Select>>(null);
  useImperativeHandle(handle, () => ({ focus: () => field.current?.focus() }));
  const known = new Set(attempt.places.map((p) => p.id));
  const along = placesAlong(attempt.paths[path], known);
  const claim = async (kind: 'clear' | 'suspect') => {
    if (chosen.length > 0 && (await act({ do: kind, places: chosen }))) onChoose([]);
  };
  const toggle = (id: string) => onChoose(chosen.includes(id) ? chosen.filter((c) => c !== id) : [...chosen, id]);
  const expand = (values: string[]) => {
    const places = (v: string) =>
      v.startsWith(BRANCH) ? placesAlong(attempt.paths[Number(v.slice(BRANCH.length))], known) : [v];
    onChoose([...new Set(values.flatMap(places))]);
  };
  return (
    <section aria-label="Suspects" className="in-reasoning">
      <h2>
        Places{' '}
        <span className="quiet count">
          {cleared.length} ruled out · {suspected.length} suspect
        </span>
      </h2>
      <div className="chips" role="group" aria-label="Places along the path">
        {along.map((id) => (
          <Chip
            key={id}
            id={id}
            held={held(attempt.bench, id)}
            picked={chosen.includes(id)}
            disabled={closed}
            about={attempt.places.find((p) => p.id === id)?.about ?? ''}
            onPick={toggle}
          />
        ))}
      </div>
      <div className="row claims">
        <Select
          id="claim-places"
          ref={field}
          aria-label="Places to rule out or suspect"
          mode="multiple"
          className="claim-field"
          showSearch={{ optionFilterProp: 'label' }}
          placeholder="Places or a whole branch  [C]"
          maxTagCount={2}
          disabled={closed}
          value={chosen}
          onChange={expand}
          options={[
            {
              label: 'Branches',
              options: attempt.paths.map((p, n) => ({ value: `${BRANCH}${n}`, label: `whole branch: ${p.title}` })),
            },
            { label: 'Places', options: attempt.places.map((p) => ({ value: p.id, label: `${p.id} · ${p.about}` })) },
          ]}
        />
        <Button id="clear-places" disabled={closed || chosen.length === 0} onClick={() => void claim('clear')}>
          Rule out
        </Button>
        <Button id="suspect-places" disabled={closed || chosen.length === 0} onClick={() => void claim('suspect')}>
          Suspect
        </Button>
      </div>
    </section>
  );
});

type ChipProps = {
  id: string;
  held: string;
  picked: boolean;
  disabled: boolean;
  about: string;
  onPick: (id: string) => void;
};

/** A place along the path; it lights up with the diagram. */
function Chip({ id, held: how, picked, disabled, about, onPick }: ChipProps) {
  const lit = useIsLit(id);
  const { choose } = useChoose();
  return (
    <button
      type="button"
      className={`chip ${how}${picked ? ' picked' : ''}${lit ? ' lit' : ''}`}
      aria-pressed={picked}
      disabled={disabled}
      title={`${id}: ${about}. Choose it, then rule it out or hold it suspect`}
      {...useLighting(id)}
      onClick={() => {
        choose(id);
        onPick(id);
      }}
    >
      {id}
    </button>
  );
}
