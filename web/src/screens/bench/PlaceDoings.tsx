// What can be done with the chosen place at the bench: leads, claims, and whatever is done at the machine there.
import { Button, Dropdown } from 'antd';

import type { Action, AttemptView } from '../../api/client';
import { waysAt } from './Machine';
import { fromHere } from './stairs';

type Props = {
  attempt: AttemptView;
  place: string;
  /** Nothing where no fault is to be found. */
  finds: boolean;
  onLead?: (lead: 'red' | 'black', point: string) => void;
  /** The current path in view, by number. */
  path: number;
  /** Several places at once, to be ruled out or held. */
  onBranch: (places: string[]) => void;
  onName: (place: string) => void;
  /** Puts something of one's own on the diagram there; nothing where it is somebody else's bench. */
  onMark?: (place: string) => void;
  act: (action: Action) => Promise<unknown>;
};

export function PlaceDoings({ attempt, place, finds, path, onLead, onBranch, onName, onMark, act }: Props) {
  const { cleared, suspected, handed_in: closed } = attempt.bench;
  if (closed) return null;
  const isPoint = attempt.drawing.points.some((p) => p.id === place);
  // A terminal is no place of its own: what is claimed is claimed of its part.
  const known = (id?: string) => attempt.places.find((p) => p.id === id)?.id;
  const owner = attempt.drawing.parts.find((p) => p.terminals.some((t) => t.point === place))?.id;
  const half = attempt.drawing.cavities.find((c) => [c.male, c.female].includes(place))?.id;
  const claimed = finds ? (known(place) ?? known(owner) ?? known(half)) : undefined;
  const of = claimed === place ? '' : ` ${claimed}`;
  const ways = waysAt(attempt, place);
  const ids = new Set(attempt.places.map((p) => p.id));
  // Along the path in view, or else along the first that comes by here.
  const paths = [attempt.paths[path], ...attempt.paths];
  const branch = claimed ? (paths.map((p) => fromHere(p, claimed, ids)).find((b) => b.length > 1) ?? []) : [];
  const BRANCH = 'branch';
  const MARK = 'mark';
  const items = [
    ...(branch.length > 1 ? [{ key: BRANCH, label: `Choose all from ${claimed} to ground (${branch.length})` }] : []),
    ...(onMark ? [{ key: MARK, label: 'Mark it on the diagram …' }] : []),
    ...ways.map((w) => ({ key: w.label, label: w.label })),
  ];
  return (
    <>
      {isPoint && onLead && (
        <>
          <Button size="small" id="card-red" onClick={() => onLead('red', place)}>
            Red lead
          </Button>
          <Button size="small" id="card-black" onClick={() => onLead('black', place)}>
            Black lead
          </Button>
        </>
      )}
      {claimed && (
        <>
          <Button
            size="small"
            id="card-clear"
            disabled={cleared.includes(claimed)}
            onClick={() => void act({ do: 'clear', places: [claimed] })}
          >
            Rule out{of}
          </Button>
          <Button
            size="small"
            id="card-suspect"
            disabled={suspected.includes(claimed)}
            onClick={() => void act({ do: 'suspect', places: [claimed] })}
          >
            Suspect{of}
          </Button>
          <Button size="small" id="card-name" onClick={() => onName(claimed)}>
            Name{of || ' it'}
          </Button>
        </>
      )}
      {items.length > 0 && (
        <Dropdown
          trigger={['click']}
          menu={{
            items,
            onClick: ({ key }) => {
              if (key === BRANCH) return onBranch(branch);
              if (key === MARK) return onMark?.(place);
              const way = ways.find((w) => w.label === key);
              if (way) void act(way.action);
            },
          }}
        >
          <Button size="small" id="card-more">
            At {place} ▾
          </Button>
        </Dropdown>
      )}
    </>
  );
}
