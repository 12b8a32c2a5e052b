// What is written on a diagram; readings stand at the ends of their wire.
import { memo, useMemo } from 'react';

import { brick, copper } from '../theme';
import type { PointMark } from './Diagram';
import { labelsOf, type Label, type Scene } from './scene';

const CLASSES = { name: 'svg-name', note: 'svg-note', terminal: 'svg-terminal', number: 'svg-name', about: 'svg-note' };

export const Texts = memo(function Texts({ scene }: { scene: Scene }) {
  const texts = scene.texts.filter((t) => t.role !== 'number' && t.role !== 'about');
  return texts.map((t, n) => (
    <text key={n} className={CLASSES[t.role]} x={t.x} y={t.y} data-part={t.own.replace('tag:', '')}>
      {t.text}
    </text>
  ));
});

/** Number, area and colour of every wire, with the readings at its ends where there are some. */
export function WireLabels({ scene, marks }: { scene: Scene; marks: Record<string, PointMark> }) {
  const labels = useMemo(() => labelsOf(scene), [scene]);
  return labels.map((label, n) => {
    const [upper, lower] = label.run.ends.map((end) => marks[end]);
    return <WireLabel key={n} label={label} upper={upper} lower={lower} />;
  });
}

const WireLabel = memo(
  function WireLabel({ label, upper, lower }: { label: Label; upper?: PointMark; lower?: PointMark }) {
    const { number, about } = label;
    const same = upper?.tag !== undefined && upper.tag === lower?.tag;
    const measured = upper?.tag ?? lower?.tag;
    const flat = about !== undefined && about.y === number.y;
    return (
      <g data-wire={label.run.id}>
        <text className="svg-name" x={number.x} y={number.y}>
          {number.text}
          {measured && !(flat && !same) && upper?.tag && <Reading mark={upper} dx={2.5} />}
          {flat && measured && (same || <Reading mark={upper} dx={2.5} />)}
          {flat && measured && !same && <Reading mark={lower} dx={3} />}
        </text>
        {about && !flat && (
          <text className="svg-note" x={about.x} y={about.y}>
            {lower?.tag && !same ? <Reading mark={lower} /> : about.text}
          </text>
        )}
        {about && flat && !measured && (
          <text className="svg-note" x={about.x} y={about.y}>
            {about.text}
          </text>
        )}
      </g>
    );
  },
  (a, b) => a.label === b.label && alike(a.upper, b.upper) && alike(a.lower, b.lower),
);

function alike(a?: PointMark, b?: PointMark): boolean {
  return a?.tag === b?.tag && a?.tagColour === b?.tagColour && a?.tells === b?.tells;
}

/** A figure; one that differs from a healthy machine's is underlined too. */
function Reading({ mark, dx }: { mark?: PointMark; dx?: number }) {
  return (
    <tspan
      className="svg-reading"
      dx={dx}
      fill={mark?.tells ? brick : (mark?.tagColour ?? copper)}
      textDecoration={mark?.tells ? 'underline' : undefined}
    >
      {mark?.tag ?? '–'}
    </tspan>
  );
}
