// The diagram: current tracks from the supply rail down to the metals, every test point to be clicked or focused.
import { memo, useId, useMemo, useRef, type ReactNode } from 'react';

import type { Drawing, Schemas } from '../api/client';
import { useChoose } from './chosen';
import { WireLabels, Texts } from './Labels';
import { CutTags, Strokes, WireBands, Wires } from './Lines';
import { Lit } from './Lit';
import { Leads } from './Leads';
import { Marks } from './Marks';
import { Noticed } from './Noticed';
import { Overview } from './Overview';
import { Parts } from './Parts';
import { PlaceCard } from './PlaceCard';
import { Points } from './Points';
import { type Scene } from './scene';
import { useMover } from './useMover';
import { useScene, useSize, type SheetSize } from './useScene';
import { useView } from './useView';
import { ViewControls } from './ViewControls';
import './Diagram.css';

export type PointMark = {
  /** Figures shown at the ends of the wires that go to the point. */
  tag?: string;
  tagColour?: string;
  /** The figures differ from the healthy ones. */
  tells?: boolean;
  lead?: 'red' | 'black';
};

type Props = {
  drawing: Drawing;
  marks: Record<string, PointMark>;
  /** Places with a fault, and a word for each. */
  faults?: Record<string, string>;
  /** Connectors and parts that are out of the circuit. */
  apart?: string[];
  /** Places that were ruled out, and places held suspect. */
  cleared?: string[];
  suspected?: string[];
  /** What is noticed of the machine as it stands. */
  notices?: readonly Schemas['Notice'][];
  /** Pairs of points that a lead joins. */
  joined?: readonly (readonly string[])[];
  onPoint: (id: string) => void;
  /** A part, wire or cavity itself was clicked. */
  onPlace?: (id: string) => void;
  /** A part or cavity was moved, by mouse or arrow keys, in diagram units. */
  onMove?: (id: string, dx: number, dy: number) => void;
  /** What can be done with the chosen place, beside what it is. */
  doings?: (place: string) => ReactNode;
  /** What else stands in the row above the diagram. */
  tools?: ReactNode;
  /** All of it in view, without a row above: for paper. */
  still?: boolean;
};

/** Drawn again only when something of it has changed. */
export const Diagram = memo(function Diagram(props: Props) {
  const sheet = useRef<HTMLDivElement>(null);
  const size = useSize(sheet);
  const scene = useScene(props.drawing, size, props.still ?? false);
  return (
    <div className={props.still ? 'sheet still' : 'sheet'} ref={sheet}>
      {scene.error && !scene.data && (
        <p className="error-line padded">The diagram could not be laid out: {scene.error.message}</p>
      )}
      {scene.data && size ? (
        // Another circuit, or a sheet of another size, begins with all of it in view.
        <Drawn key={`${props.drawing.title} ${size.width > 700}`} {...props} scene={scene.data} size={size} />
      ) : (
        !scene.error && <p className="quiet padded">Laying the diagram out …</p>
      )}
    </div>
  );
});

function Drawn({ scene, size, ...props }: Props & { scene: Scene; size: SheetSize }) {
  const { drawing } = props;
  const drawn = useId();
  const whole = useMemo(() => ({ x: 0, y: 0, width: scene.width, height: scene.height }), [scene.width, scene.height]);
  const view = useView(whole, { width: size.width / scene.scale, height: size.height / scene.scale });
  const mover = useMover(view.svg, props.onMove);
  const { now } = view;
  const { choose, hover } = useChoose();
  const leads = useMemo(() => leadsOf(props.marks), [props.marks]);
  return (
    <>
      {!props.still && (
        <ViewControls
          drawing={drawing}
          scene={scene}
          near={view.near}
          onZoom={view.zoom}
          onFit={view.fit}
          onShow={view.show}
        >
          <PlaceCard drawing={drawing} doings={props.doings} />
          <span className="tools">{props.tools}</span>
        </ViewControls>
      )}
      <svg
        ref={view.svg}
        className="drawn"
        width={size.width}
        height={size.height}
        viewBox={`${now.x} ${now.y} ${now.width} ${now.height}`}
        preserveAspectRatio="xMidYMid meet"
        role="group"
        aria-label={`Diagram of ${drawing.title}`}
        {...view.handlers}
        onClickCapture={(e) => choose(placeAt(e.target))}
        onPointerOver={(e) => hover(placeAt(e.target))}
        onPointerLeave={() => hover(null)}
      >
        <g id={drawn}>
          <Lit drawing={drawing} scene={scene} />
          <WireBands scene={scene} cleared={props.cleared ?? NONE} suspected={props.suspected ?? NONE} />
          {props.notices && <Noticed scene={scene} notices={props.notices} />}
          <Strokes scene={scene} above={false} />
          <Wires drawing={drawing} scene={scene} onPlace={props.onPlace} />
          <Parts drawing={drawing} scene={scene} apart={props.apart} onPlace={props.onPlace} />
          <Strokes scene={scene} above />
          <CutTags scene={scene} />
          <Texts scene={scene} />
          <WireLabels scene={scene} marks={props.marks} />
          <Marks scene={scene} faults={props.faults} cleared={props.cleared} suspected={props.suspected} />
          <Leads scene={scene} leads={leads} joined={props.joined ?? NONE_JOINED} />
          <Points drawing={drawing} scene={scene} marks={props.marks} onPoint={props.onPoint} />
        </g>
        {props.onMove &&
          movable(scene).map(({ id, ...box }) => <rect key={id} className="mover" {...box} {...mover(id)} />)}
      </svg>
      {view.near && <Overview drawn={drawn} whole={whole} now={now} onShow={view.show} />}
    </>
  );
}

const NONE: string[] = [];
const NONE_JOINED: string[][] = [];

/** The place or test point that an element of the diagram stands for. */
function placeAt(target: EventTarget): string | null {
  const found =
    target instanceof Element
      ? target.closest<SVGElement>('[data-wire], [data-part], [data-point], [data-again]')
      : null;
  const { wire, part, point, again } = found?.dataset ?? {};
  return wire ?? part ?? point ?? again ?? null;
}

/** The points that the leads are on. */
function leadsOf(marks: Record<string, PointMark>): { red?: string; black?: string } {
  const on = (lead: 'red' | 'black') => Object.keys(marks).find((id) => marks[id]?.lead === lead);
  return { red: on('red'), black: on('black') };
}

/** What can be moved on the diagram, each with a handle that leaves its test points free. */
function movable(scene: Scene) {
  const boxes = scene.boxes.map((b) => ({
    id: b.id,
    x: b.x + 4,
    y: b.y + 8,
    width: b.width - 8,
    height: b.height - 16,
  }));
  const symbols = scene.symbols.filter((s) => s.of === 'part' || s.of === 'cavity');
  const handles = symbols.map((s) => {
    const half = s.of === 'part' ? 7 : 4;
    return { id: s.id, x: s.x - 8, y: s.y - half, width: 16, height: 2 * half };
  });
  return [...boxes, ...handles];
}
