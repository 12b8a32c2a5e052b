// Every test point, to be clicked, touched or focused.
import { memo, useMemo, useState, type KeyboardEvent } from 'react';

import type { Drawing } from '../api/client';
import { ink } from '../theme';
import type { PointMark } from './Diagram';
import type { Scene, Spot } from './scene';

const LEADS = { red: '#c0392b', black: '#1f2a33' };

type Props = {
  drawing: Drawing;
  scene: Scene;
  marks: Record<string, PointMark>;
  onPoint: (id: string) => void;
};

export function Points({ drawing, scene, marks, onPoint }: Props) {
  const abouts = useMemo(() => new Map(drawing.points.map((p) => [p.id, p.about])), [drawing]);
  // A rail, a splice or a ground stands in several spots: a lead is shown where it was put.
  const [put, setPut] = useState<Record<string, number>>({});
  const spots = useMemo(() => {
    const seen = new Map<string, number>();
    return scene.points.map((spot) => {
      const nth = seen.get(spot.id) ?? 0;
      seen.set(spot.id, nth + 1);
      return { ...spot, nth };
    });
  }, [scene]);
  return spots.map(({ id, nth, x, y }) => (
    <Point
      key={`${id} ${nth}`}
      id={id}
      nth={nth}
      about={abouts.get(id) ?? ''}
      x={x}
      y={y}
      tag={marks[id]?.tag}
      lead={(put[id] ?? 0) === nth ? marks[id]?.lead : undefined}
      onPoint={onPoint}
      onPut={setPut}
    />
  ));
}

type PointProps = Spot & {
  id: string;
  nth: number;
  about: string;
  tag?: string;
  lead?: 'red' | 'black';
  onPoint: (id: string) => void;
  onPut: (change: (old: Record<string, number>) => Record<string, number>) => void;
};

const Point = memo(function Point({ id, nth, about, x, y, tag, lead, onPoint, onPut }: PointProps) {
  const put = () => {
    onPut((old) => (old[id] === nth ? old : { ...old, [id]: nth }));
    onPoint(id);
  };
  const keys = (e: KeyboardEvent) => {
    if (e.key === 'Enter' || e.key === ' ') {
      e.preventDefault();
      e.stopPropagation();
      put();
    }
  };
  const first = nth === 0;
  return (
    <g
      className="point"
      transform={`translate(${x} ${y})`}
      role={first ? 'button' : undefined}
      tabIndex={first ? 0 : undefined}
      data-point={first ? id : undefined}
      data-again={first ? undefined : id}
      aria-hidden={first ? undefined : true}
      aria-label={first ? `${id}, ${about}${tag ? `, ${tag}` : ''}${lead ? ` ${lead} lead` : ''}` : undefined}
      onClick={put}
      onKeyDown={keys}
    >
      <title>{[id, about, tag].filter(Boolean).join(' · ')}</title>
      <circle r={4.4} fill="transparent" />
      <circle
        className="spot"
        r={lead ? 4.6 : 2.6}
        fill={lead ? LEADS[lead] : '#fff'}
        stroke={lead ? '#fff' : ink}
        strokeWidth={lead ? 1 : 1.1}
      />
    </g>
  );
});
