// The machine to put leads on: its diagram, or its test points by name where a lesson has none.
import { useMemo, type ReactNode, type RefObject } from 'react';

import type { AttemptView } from '../../api/client';
import { useSound } from '../../app/sound';
import { Diagram, type PointMark } from '../../diagram/Diagram';
import { Faces } from '../../diagram/Faces';
import type { SketchMark } from '../../diagram/Sketch';
import { HealthySheets, PointList } from './Papers';

type Props = {
  attempt: AttemptView;
  marks: Record<string, PointMark>;
  onPlace: (place: string) => void;
  onPoint: (point: string) => void;
  /** Several places were chosen with a rubber band. */
  onArea?: (places: string[]) => void;
  doings: (place: string) => ReactNode;
  /** What one sketched on it. */
  sketch?: readonly SketchMark[];
  /** What opens the connector faces. */
  facesButton: RefObject<HTMLButtonElement | null>;
};

export function MachinePane({ attempt, marks, onPlace, onPoint, onArea, doings, sketch, facesButton }: Props) {
  const view = attempt.bench;
  const [sounds, toggleSound] = useSound();
  const tools = useMemo(
    () => (
      <>
        <HealthySheets sheets={attempt.healthy} />{' '}
        <button
          type="button"
          id="sound"
          aria-pressed={sounds}
          title="What clicks and cranks is heard too"
          onClick={toggleSound}
        >
          sound
        </button>{' '}
        {attempt.papers.connectors && (
          <Faces drawing={attempt.drawing} apart={view.apart} onPoint={onPoint} opener={facesButton} />
        )}
      </>
    ),
    [
      attempt.healthy,
      attempt.papers.connectors,
      attempt.drawing,
      view.apart,
      onPoint,
      facesButton,
      sounds,
      toggleSound,
    ],
  );
  return (
    <div className="diagram">
      {attempt.papers.diagram ? (
        <Diagram
          drawing={attempt.drawing}
          apart={view.apart}
          cleared={view.cleared}
          suspected={view.suspected}
          marks={marks}
          onPlace={onPlace}
          onPoint={onPoint}
          onArea={onArea}
          notices={view.notices}
          joined={view.joined}
          sketch={sketch}
          doings={doings}
          tools={tools}
        />
      ) : (
        <>
          <PointList attempt={attempt} marks={marks} onPoint={onPoint} />
          <span className="corner">{tools}</span>
        </>
      )}
    </div>
  );
}
