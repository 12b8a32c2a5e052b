// Zooming, fitting and finding on a diagram.
import { useId, useState, type ReactNode } from 'react';

import type { Drawing } from '../api/client';
import { useChoose } from './chosen';
import { spotOf, type Scene, type Spot } from './scene';
import './ViewControls.css';

type Props = {
  drawing: Drawing;
  scene: Scene;
  near: boolean;
  onZoom: (by: number) => void;
  onFit: () => void;
  onShow: (spot: Spot) => void;
  /** Whether the next drag draws a rubber band; absent where nothing can be chosen by one. */
  area?: { ready: boolean; onReady: (ready: boolean) => void };
  /** What else there is to do. */
  children?: ReactNode;
};

export function ViewControls({ drawing, scene, near, onZoom, onFit, onShow, area, children }: Props) {
  const [text, setText] = useState('');
  const [lost, setLost] = useState('');
  const list = useId();
  const { choose } = useChoose();
  const things = [
    ...drawing.parts.map((p) => ({ id: p.id, about: p.name })),
    ...drawing.cavities.map((c) => ({ id: c.id, about: 'cavity' })),
    ...drawing.wires.map((w) => ({ id: w.id, about: w.label })),
    ...drawing.points.map((p) => ({ id: p.id, about: p.about })),
  ];
  const find = (said: string) => {
    const wanted = said.trim().toLowerCase();
    const found =
      things.find((t) => t.id.toLowerCase() === wanted) ??
      things.find((t) => wanted !== '' && t.about.toLowerCase() === wanted) ??
      things.find((t) => wanted !== '' && t.about.toLowerCase().startsWith(wanted)) ??
      things.find((t) => wanted !== '' && t.about.toLowerCase().includes(wanted));
    const spot = found && spotOf(scene, found.id);
    if (spot) onShow(spot);
    if (found) choose(found.id);
    setLost(found || wanted === '' ? '' : said.trim());
    return spot !== undefined;
  };
  return (
    <div className="view-controls" role="group" aria-label="View">
      <input
        aria-label="Find on the diagram"
        list={list}
        placeholder="find"
        value={text}
        onChange={(e) => {
          setText(e.target.value);
          setLost('');
          if (things.some((t) => t.id === e.target.value)) find(e.target.value);
        }}
        onKeyDown={(e) => {
          if (e.key === 'Enter') {
            e.preventDefault();
            find(text);
          } else if (e.key === 'Escape') {
            setText('');
            onFit();
            e.currentTarget.blur();
          }
        }}
      />
      {lost && (
        <span className="lost bad" role="status">
          no “{lost}” here
        </span>
      )}
      <datalist id={list}>
        {things.map((t) => (
          <option key={t.id} value={t.id}>
            {t.about}
          </option>
        ))}
      </datalist>
      <button type="button" aria-label="Nearer" onClick={() => onZoom(1.4)}>
        +
      </button>
      <button type="button" aria-label="Further away" disabled={!near} onClick={() => onZoom(1 / 1.4)}>
        −
      </button>
      <button type="button" disabled={!near} onClick={onFit}>
        fit
      </button>
      {area && (
        <button
          type="button"
          id="choose-area"
          aria-pressed={area.ready}
          title="Choose several places: draw a frame around them, or drag with ⇧"
          onClick={() => area.onReady(!area.ready)}
        >
          frame
        </button>
      )}
      {children}
    </div>
  );
}
