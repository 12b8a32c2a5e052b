// Whether it counts how a repair is made, and what it has to stand.
import { Checkbox } from 'antd';

import type { Schemas } from '../../api/client';
import type { Rules } from './LessonRules';

const AROUND = [
  ['wet', 'water'],
  ['moves', 'shaking'],
  ['hot', 'heat'],
] as const;

type Props = { rules: Rules; usual: Schemas['Usual']; change: (part: Partial<Rules>) => void };

export function CraftOf({ rules, usual, change }: Props) {
  const craft = rules.craft;
  const stands = craft?.around ?? [];
  const begin = () =>
    change({
      craft: usual.craft,
      // A lesson from before it counted has no weight for it.
      weights: { ...rules.weights, craft: rules.weights.craft || (usual.rules.weights.craft ?? 0) },
    });
  return (
    <div className="stack close">
      <Checkbox
        id="rule-craft"
        checked={!!craft}
        onChange={(e) => (e.target.checked ? begin() : change({ craft: null }))}
      >
        It counts how the repair is made, and the machine is seen a second time
      </Checkbox>
      {craft && (
        <div className="row" role="group" aria-label="What a repair has to stand">
          <span className="quiet">It has to stand</span>
          {AROUND.map(([what, text]) => (
            <Checkbox
              key={what}
              checked={stands.includes(what)}
              onChange={(e) =>
                change({
                  craft: {
                    around: e.target.checked ? [...stands, what] : stands.filter((a) => a !== what),
                  },
                })
              }
            >
              {text}
            </Checkbox>
          ))}
        </div>
      )}
    </div>
  );
}
