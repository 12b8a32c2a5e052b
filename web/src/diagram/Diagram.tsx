// The diagram: current tracks from the supply rail down to the metals, every test point to be clicked or focused.
import { memo, useEffect, useId, useMemo, useRef, type MouseEvent, type PointerEvent, type ReactNode } from 'react';

import type { Drawing, Schemas } from '../api/client';
import { useChoose } from './chosen';
import { WireLabels, Texts } from './Labels';
import { CutTags, Strokes, WireBands, Wires } from './Lines';
import { Lit } from './Lit';
import { Leads } from './Leads';
import { Marks } from './Marks';
import { Noticed } from './Noticed';
import { Overview } from './Overview';
import { Boxes, Symbols } from './Parts';
import { PlaceCard } from './PlaceCard';
import { Points } from './Points';
import { Sketch, type SketchMark } from './Sketch';
import { type Scene } from './scene';
import { useBand } from './useBand';
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
  /** What was sketched on it. */
  sketch?: readonly SketchMark[];
  /** Pairs of points that a lead joins. */
  joined?: readonly (readonly string[])[];
  onPoint: (id: string) => void;
  /** One point was dragged to another. */
  onJoin?: (from: string, to: string) => void;
  /** A part, wire or cavity itself was clicked. */
  onPlace?: (id: string) => void;
  /** Several places were chosen with a rubber band. */
  onArea?: (places: string[]) => void;
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
  const { scene, error } = useScene(props.drawing, size, props.still ?? false);
  return (
    <div className={props.still ? 'sheet still' : 'sheet'} ref={sheet}>
      {error && !scene && <p className="error-line padded">The diagram could not be laid out: {error.message}</p>}
      {scene && size ? (
        // Another circuit, or a sheet of another size, begins with all of it in view.
        <Drawn key={`${props.drawing.title} ${size.width > 700}`} {...props} scene={scene} size={size} />
      ) : (
        !error && <p className="quiet padded">Laying the diagram out …</p>
      )}
    </div>
  );
});

function Drawn({ scene, size, ...props }: Props & { scene: Scene; size: SheetSize }) {
  const { drawing, onPoint } = props;
  const drawn = useId();
  // All of it, or as much as can be read.
  const window = useMemo(() => windowOf(scene, size, props.still), [scene, size, props.still]);
  const banding = useRef(false);
  const view = useView(scene, window, banding);
  const band = useBand({ svg: view.svg, scene, onArea: props.onArea });
  useEffect(() => {
    banding.current = band.ready;
  }, [band.ready]);
  const mover = useMover(props.onMove);
  const { choose, hover } = useChoose();
  const begun = useRef<string | null>(null);
  const joined = useRef(false);
  const leads = useMemo(() => leadsOf(props.marks), [props.marks]);
  // A finger is wider than a test point, so that one near it comes before the wire under it.
  const reached = (e: PointerEvent | MouseEvent) => {
    const [on, near] = [placeAt(e.target), nearest(scene, view.svg.current, e)];
    return byFinger(e) ? (near ?? on) : (on ?? near);
  };
  return (
    <>
      {!props.still && (
        <ViewControls
          drawing={drawing}
          scene={scene}
          near={view.near}
          onZoom={view.by}
          onFit={view.fit}
          onShow={view.show}
          area={props.onArea && { ready: band.ready, onReady: band.setReady }}
        >
          <PlaceCard drawing={drawing} doings={props.doings} />
          <span className="tools">{props.tools}</span>
        </ViewControls>
      )}
      {/* The test points in it are its buttons; its own keys move the view. */}
      <svg
        ref={view.svg}
        className={band.ready ? 'drawn choosing' : 'drawn'}
        width={size.width}
        height={size.height}
        viewBox={`0 0 ${window.width} ${window.height}`}
        preserveAspectRatio="xMidYMid meet"
        role="group"
        aria-label={`Diagram of ${drawing.title}`}
        onKeyDown={view.keys}
        onClickCapture={(e) => {
          const at = reached(e);
          // What ends a drag is no click.
          if (joined.current) {
            joined.current = false;
            e.stopPropagation();
            return;
          }
          choose(at);
          if (at === null || at === placeAt(e.target)) return;
          e.stopPropagation();
          onPoint(at);
        }}
        onPointerDown={(e) => {
          band.begin(e);
          hover(reached(e));
          begun.current = props.onJoin ? pointAt(e.target) : null;
        }}
        onPointerUp={(e) => {
          if (band.end()) {
            joined.current = true;
            return;
          }
          const [start, end] = [begun.current, reached(e)];
          begun.current = null;
          joined.current = start !== null && end !== null && start !== end && isPoint(scene, end);
          if (joined.current && start && end) props.onJoin?.(start, end);
        }}
        onPointerMove={(e) => {
          band.draw(e);
          hover(reached(e));
        }}
        onPointerLeave={() => hover(null)}
      >
        <g transform={view.at.toString()}>
          <g id={drawn}>
            <Lit drawing={drawing} scene={scene} />
            <WireBands scene={scene} cleared={props.cleared ?? NONE} suspected={props.suspected ?? NONE} />
            <Wires drawing={drawing} scene={scene} onPlace={props.onPlace} />
            <Boxes drawing={drawing} scene={scene} apart={props.apart} onPlace={props.onPlace} />
            <Strokes scene={scene} />
            {props.notices && <Noticed scene={scene} notices={props.notices} />}
            <Symbols drawing={drawing} scene={scene} apart={props.apart} onPlace={props.onPlace} />
            <CutTags scene={scene} />
            <Texts scene={scene} />
            <WireLabels scene={scene} marks={props.marks} />
            <Marks scene={scene} faults={props.faults} cleared={props.cleared} suspected={props.suspected} />
            <Leads scene={scene} leads={leads} joined={props.joined ?? NONE_JOINED} />
            {props.sketch && props.sketch.length > 0 && <Sketch scene={scene} marks={props.sketch} />}
            <Points drawing={drawing} scene={scene} marks={props.marks} onPoint={onPoint} />
          </g>
          {props.onMove &&
            movable(scene).map(({ id, ...box }) => <rect key={id} className="mover" {...box} {...mover(id)} />)}
          {band.band && <rect className="band" {...band.band} />}
        </g>
      </svg>
      {view.near && (
        <Overview drawn={drawn} whole={{ x: 0, y: 0, ...extent(scene) }} now={view.now} onShow={view.show} />
      )}
    </>
  );
}

const extent = ({ width, height }: Scene) => ({ width, height });

/** A diagram that is larger than its window by less than this is all in view. */
const SLACK = 1.06;

/** What a window shows of a diagram at first, in diagram units. */
function windowOf(scene: Scene, size: SheetSize, still = false): { width: number; height: number } {
  const window = { width: size.width / scene.scale, height: size.height / scene.scale };
  const fits = scene.width <= window.width * SLACK && scene.height <= window.height * SLACK;
  return fits || still ? extent(scene) : window;
}

function byFinger(e: PointerEvent | MouseEvent): boolean {
  return (e.nativeEvent as globalThis.PointerEvent).pointerType === 'touch';
}

/** How near a press has to be to a test point, in pixels. */
const REACH = { mouse: 8, touch: 22 };

/** The test point nearest to a press that is not on anything, within reach. */
function nearest(scene: Scene, svg: SVGSVGElement | null, e: PointerEvent | MouseEvent): string | null {
  const inner = svg?.firstElementChild;
  const matrix = inner instanceof SVGGElement ? inner.getScreenCTM() : null;
  if (!matrix) return null;
  const reach = (byFinger(e) ? REACH.touch : REACH.mouse) / matrix.a;
  const at = new DOMPoint(e.clientX, e.clientY).matrixTransform(matrix.inverse());
  let best: { id: string; far: number } | undefined;
  for (const p of scene.points) {
    const far = Math.hypot(p.x - at.x, p.y - at.y);
    if (far <= reach && (!best || far < best.far)) best = { id: p.id, far };
  }
  return best?.id ?? null;
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

/** The test point that an element stands for. */
function pointAt(target: EventTarget): string | null {
  const found = target instanceof Element ? target.closest<SVGElement>('[data-point], [data-again]') : null;
  return found?.dataset.point ?? found?.dataset.again ?? null;
}

const isPoint = (scene: Scene, id: string) => scene.points.some((p) => p.id === id);

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
