// The voltage staircase along one of the machine's paths.
import { Button } from 'antd';

import type { AttemptView } from '../../api/client';
import { Staircase, type StairPoint } from '../../staircase/Staircase';

type Props = {
  attempt: AttemptView;
  pathAt: number;
  onPath: (at: number) => void;
  points: StairPoint[];
  active: string;
  onPoint: (point: string) => void;
  onPlace?: (place: string) => void;
  onScope: () => void;
};

/** Room above the system's volts: a machine that charges stands higher. */
const TOP = 7 / 6;

export function PathPane({ attempt, pathAt, onPath, points, active, onPoint, onPlace, onScope }: Props) {
  const path = attempt.paths[pathAt];
  return (
    <div className="stairs">
      <div className="head">
        {attempt.paths.length === 0 ? (
          <h2>Your readings</h2>
        ) : (
          <h2>
            <span className="told">Voltage along the path:</span>{' '}
            <select aria-label="Path" value={pathAt} onChange={(e) => onPath(Number(e.target.value))}>
              {attempt.paths.map((p, n) => (
                <option key={p.title} value={n}>
                  {p.title}
                </option>
              ))}
            </select>{' '}
            <kbd>P</kbd>
          </h2>
        )}
        <span className="quiet">
          <span className="told">bars: your predictions · dots: your readings</span>{' '}
          {attempt.scope && (
            <Button size="small" id="open-scope" onClick={onScope}>
              Oscilloscope <kbd>S</kbd>
            </Button>
          )}
        </span>
      </div>
      <Staircase
        label={path ? `Your readings along the path ${path.title}` : 'Your readings'}
        top={attempt.drawing.system_v * TOP}
        points={points}
        active={active}
        onPoint={onPoint}
        onPlace={onPlace}
      />
    </div>
  );
}
