// The diagram: parts, wires in their own colours, every test point to be clicked or focused.
import { memo, useMemo, type KeyboardEvent } from 'react';

import type { Drawing } from '../api/client';
import { brick, copper, ink, paper, rule, verdigris } from '../theme';
import { wireColours, wireWidth } from './colours';
import type { Box, Layout, Route, Spot } from './layout';
import { PartSymbol } from './symbols';
import { useLayout } from './useLayout';
import { useMover } from './useMover';
import { usePixels } from './usePixels';
import { useView } from './useView';
import { ViewControls } from './ViewControls';
import './Diagram.css';

export type PointMark = {
  /** Figures shown beside the point. */
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
  /** Places that were cleared, and places held suspect. */
  cleared?: string[];
  suspected?: string[];
  onPoint: (id: string) => void;
  /** A part, wire or cavity itself was clicked. */
  onPlace?: (id: string) => void;
  /** A part or cavity was moved, by mouse or arrow keys, in diagram units. */
  onMove?: (id: string, dx: number, dy: number) => void;
};

const LEADS = { red: '#c0392b', black: '#1f2a33' };

/** Drawn again only when something of it has changed. */
export const Diagram = memo(function Diagram(props: Props) {
  const layout = useLayout(props.drawing);
  if (layout.error) return <p className="error-line">The diagram could not be laid out: {layout.error.message}</p>;
  if (!layout.data) return <p className="quiet padded">Laying the diagram out …</p>;
  return <Drawn {...props} at={layout.data} />;
});

function Drawn({ at, ...props }: Props & { at: Layout }) {
  const { drawing } = props;
  const whole = useMemo(() => ({ x: -62, y: -6, width: at.width + 108, height: at.height + 8 }), [at]);
  const source = drawing.parts.find((p) => p.is_source);
  const view = useView(whole, (source && at.boxes[source.id]?.x) ?? 0);
  usePixels(view.svg);
  const mover = useMover(view.svg, props.onMove);
  const wires = useMemo(
    () => drawing.wires.flatMap((w) => (at.routes[w.id] ? [{ wire: w, route: at.routes[w.id] as Route }] : [])),
    [drawing, at],
  );
  // Figures of an upper terminal stand above it, of a lower one below, clear of the part itself.
  const shift = useMemo(
    () =>
      new Map(
        drawing.parts
          .filter((p) => !p.is_fuse)
          .flatMap((p) => p.terminals.map((t) => [t.point, t.feed_side && !p.is_source ? -11 : 12])),
      ),
    [drawing],
  );
  const spots = useMemo(() => places(drawing, at), [drawing, at]);
  const tagged = Object.values(props.marks).some((m) => m.tag);
  return (
    <>
      <ViewControls
        drawing={drawing}
        layout={at}
        near={view.near}
        onZoom={view.zoom}
        onFit={view.fit}
        onShow={view.show}
      />
      <svg
        ref={view.svg}
        viewBox={view.box}
        preserveAspectRatio="xMidYMid meet"
        role="group"
        aria-label={`Diagram of ${drawing.title}`}
        {...view.handlers}
      >
        {Object.entries(at.bars).map(([metal, bar]) => (
          <g key={metal}>
            <line x1={bar.x1} x2={bar.x2} y1={bar.y} y2={bar.y} stroke={ink} strokeWidth={2.5} />
            <text className="svg-note" x={bar.x1 - 6} y={bar.y + 4} textAnchor="end">
              {metal}
            </text>
          </g>
        ))}
        {Object.entries(at.mounts).map(([part, route]) => (
          <Mount
            key={part}
            part={part}
            route={route}
            drawing={drawing}
            layout={at}
            fault={props.faults?.[`${part}.mount`]}
          />
        ))}
        {drawing.grounds.map((g) => (
          <Ground key={g.id} id={g.id} metal={g.metal} layout={at} fault={props.faults?.[g.id]} />
        ))}
        {wires.map(({ wire, route }) => (
          <Wire key={wire.id} wire={wire} route={route} fault={props.faults?.[wire.id]} onPlace={props.onPlace} />
        ))}
        {drawing.cavities.map((c) => (
          <Cavity
            key={c.id}
            id={c.id}
            apart={props.apart?.includes(c.connector)}
            box={at.boxes[c.id]}
            fault={props.faults?.[c.id]}
          />
        ))}
        {drawing.parts.map((p) => (
          <Part
            key={p.id}
            part={p}
            apart={props.apart?.includes(p.id)}
            box={at.boxes[p.id]}
            fault={props.faults?.[p.id]}
            onPlace={props.onPlace}
          />
        ))}
        {drawing.splices.map((s) => {
          const spot = at.points[s];
          return (
            spot && (
              <text key={s} className="svg-mono" x={spot.x - 9} y={spot.y + 3} textAnchor="end">
                {s}
              </text>
            )
          );
        })}
        {wires.map(({ wire, route }) => (
          <WireLabel key={wire.id} label={wire.label} route={route} room={tagged ? 70 : 34} />
        ))}
        {drawing.parts.flatMap((p) =>
          p.terminals.map((t) => (
            <TerminalLabel
              key={t.point}
              terminal={t}
              isFuse={p.is_fuse}
              isSource={p.is_source}
              spot={at.points[t.point]}
            />
          )),
        )}
        {spots.map(({ id, spot }) =>
          props.cleared?.includes(id) ? (
            <Tick key={`c ${id}`} spot={spot} id={id} />
          ) : props.suspected?.includes(id) ? (
            <Query key={`s ${id}`} spot={spot} id={id} />
          ) : null,
        )}
        {drawing.points.map((p) => (
          <Point
            key={p.id}
            id={p.id}
            about={p.about}
            spot={at.points[p.id]}
            mark={props.marks[p.id]}
            tagShift={shift.get(p.id) ?? 0}
            onPoint={props.onPoint}
          />
        ))}
        {props.onMove &&
          movable(drawing, at).map(({ id, box }) => <rect key={id} className="mover" {...box} {...mover(id)} />)}
      </svg>
    </>
  );
}

/** What can be moved on the diagram, each with a handle that leaves its test points free. */
function movable(drawing: Drawing, at: Layout): { id: string; box: Box }[] {
  const all = [...drawing.parts.map((p) => p.id), ...drawing.cavities.map((c) => c.id)];
  return all.flatMap((id) => {
    const box = at.boxes[id];
    return box
      ? [{ id, box: { x: box.x + 6, y: box.y + box.height / 2 - 8, width: Math.max(box.width - 12, 12), height: 16 } }]
      : [];
  });
}

/** Where the mark of each place goes. */
function places(drawing: Drawing, at: Layout): { id: string; spot: Spot }[] {
  const boxed = [...drawing.parts.map((p) => p.id), ...drawing.cavities.map((c) => c.id)];
  const boxes = boxed.flatMap((id) => {
    const box = at.boxes[id];
    return box ? [{ id, spot: { x: box.x + box.width - 4, y: box.y + box.height / 2 } }] : [];
  });
  const wires = drawing.wires.flatMap((w) => {
    const route = at.routes[w.id];
    if (!route) return [];
    const spot = middle(route);
    return [{ id: w.id, spot: spot.vertical ? { x: spot.x - 11, y: spot.y } : { x: spot.x, y: spot.y + 11 } }];
  });
  const spots = [...drawing.grounds.map((g) => g.id), ...drawing.splices].flatMap((id) => {
    const spot = at.points[id];
    return spot ? [{ id, spot: { x: spot.x + 12, y: spot.y + 8 } }] : [];
  });
  const mounts = Object.entries(at.mounts).flatMap(([part, route]) => {
    const end = route.at(-1);
    return end ? [{ id: `${part}.mount`, spot: { x: end.x + 12, y: end.y } }] : [];
  });
  return [...boxes, ...wires, ...spots, ...mounts];
}

function Tick({ spot, id }: { spot: Spot; id: string }) {
  return (
    <g transform={`translate(${spot.x} ${spot.y})`} data-cleared={id}>
      <title>{`${id}: cleared`}</title>
      <circle r={6.5} fill="#fff" stroke={verdigris} strokeWidth={1.4} />
      <path d="M-3 0L-1 2.6L3.2 -2.6" fill="none" stroke={verdigris} strokeWidth={1.8} />
    </g>
  );
}

function Query({ spot, id }: { spot: Spot; id: string }) {
  return (
    <g transform={`translate(${spot.x} ${spot.y})`} data-suspected={id}>
      <title>{`${id}: suspect`}</title>
      <circle r={6.5} fill={brick} />
      <text y={3.6} textAnchor="middle" fontSize={10} fontWeight={700} fill="#fff">
        ?
      </text>
    </g>
  );
}

function path(route: Route): string {
  return route.map((p, n) => `${n === 0 ? 'M' : 'L'}${p.x} ${p.y}`).join('');
}

function middle(route: Route): Spot & { vertical: boolean; length: number } {
  let best = { x: 0, y: 0, vertical: true, length: -1 };
  for (let n = 1; n < route.length; n++) {
    const [a, b] = [route[n - 1] as Spot, route[n] as Spot];
    const vertical = Math.abs(a.x - b.x) < 1;
    // A label beside a vertical stretch reads best: count those longer.
    const length = Math.abs(a.x - b.x) + Math.abs(a.y - b.y) * 1.6;
    if (length > best.length) best = { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2, vertical, length };
  }
  return best;
}

const Wire = memo(function Wire(props: {
  wire: Drawing['wires'][number];
  route: Route;
  fault?: string;
  onPlace?: (id: string) => void;
}) {
  const { wire, route } = props;
  const { base, tracer, light } = wireColours(wire.color);
  const width = wireWidth(wire.area_mm2);
  const d = path(route);
  return (
    <g onClick={() => props.onPlace?.(wire.id)}>
      <title>{`${wire.id} ${wire.label}`}</title>
      {light && <path d={d} fill="none" stroke="#8b8577" strokeWidth={width + 1.4} strokeLinejoin="round" />}
      <path d={d} fill="none" stroke={base} strokeWidth={width} strokeLinejoin="round" />
      {tracer && (
        <path
          d={d}
          fill="none"
          stroke={tracer}
          strokeWidth={width * 0.45}
          strokeDasharray="7 5"
          strokeLinejoin="round"
        />
      )}
      {props.fault && <FaultMark spot={middle(route)} word={props.fault} />}
    </g>
  );
});

function FaultMark({ spot, word }: { spot: Spot; word: string }) {
  return (
    <g transform={`translate(${spot.x} ${spot.y})`}>
      <rect x={-9} y={-9} width={18} height={18} rx={3} fill={brick} />
      <path d="M-4.5 -4.5L4.5 4.5M4.5 -4.5L-4.5 4.5" stroke="#fff" strokeWidth={2} />
      <text className="svg-note svg-brick svg-bold" x={-13} y={4} textAnchor="end">
        {word}
      </text>
    </g>
  );
}

const WireLabel = memo(function WireLabel({ label, route, room }: { label: string; route: Route; room: number }) {
  const spot = middle(route);
  if (spot.length < room) return null;
  return spot.vertical ? (
    <text className="svg-mono" x={spot.x + 6} y={spot.y + 3}>
      {label}
    </text>
  ) : (
    <text className="svg-mono" x={spot.x} y={spot.y - 5} textAnchor="middle">
      {label}
    </text>
  );
});

const Part = memo(function Part(props: {
  part: Drawing['parts'][number];
  apart?: boolean;
  box?: Box;
  fault?: string;
  onPlace?: (id: string) => void;
}) {
  const { part, box } = props;
  if (!box) return null;
  const colour = props.fault ? brick : ink;
  const mid = box.y + box.height / 2;
  if (part.is_fuse) {
    return (
      <g onClick={() => props.onPlace?.(part.id)} opacity={props.apart ? 0.25 : 1}>
        <title>{part.name}</title>
        <rect x={box.x + 9} y={box.y} width={16} height={box.height} fill="#fff" stroke={colour} strokeWidth={1.4} />
        <line x1={box.x + 17} x2={box.x + 17} y1={box.y} y2={box.y + box.height} stroke={colour} strokeWidth={1.2} />
        <text className="svg-name" x={box.x + 4} y={mid} textAnchor="end">
          {part.id}
        </text>
        <text className="svg-note" x={box.x + 4} y={mid + 12} textAnchor="end">
          {part.rating}
        </text>
        {props.fault && <FaultMark spot={{ x: box.x + 17, y: mid }} word={props.fault} />}
      </g>
    );
  }
  return (
    <g onClick={() => props.onPlace?.(part.id)} opacity={props.apart ? 0.35 : 1}>
      <rect
        x={box.x}
        y={box.y}
        width={box.width}
        height={box.height}
        rx={4}
        fill="#fff"
        stroke={colour}
        strokeWidth={1.4}
        strokeDasharray={props.apart ? '4 3' : undefined}
      />
      <g transform={`translate(${box.x + 18} ${mid})`} style={{ color: colour }}>
        <PartSymbol kind={part.kind} />
      </g>
      <text className="svg-name" x={box.x + 36} y={mid + 4}>
        {part.name}
        <tspan className="svg-note" dx={6}>
          {[part.id, part.rating].filter(Boolean).join(' · ')}
        </tspan>
      </text>
      {props.fault && <FaultMark spot={{ x: box.x, y: mid }} word={props.fault} />}
    </g>
  );
});

const TerminalLabel = memo(function TerminalLabel(props: {
  terminal: Drawing['parts'][number]['terminals'][number];
  isFuse: boolean;
  isSource: boolean;
  spot?: Spot;
}) {
  const { terminal, spot } = props;
  if (!spot || props.isFuse) return null;
  const down = !terminal.feed_side || props.isSource;
  return (
    <text className="svg-terminal" x={spot.x} y={down ? spot.y - 6 : spot.y + 13} textAnchor="middle">
      {terminal.label}
    </text>
  );
});

const Cavity = memo(function Cavity({
  id,
  box,
  fault,
  apart,
}: {
  id: string;
  box?: Box;
  fault?: string;
  apart?: boolean;
}) {
  if (!box) return null;
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
  const gap = apart ? 4 : 0;
  return (
    <g>
      <title>{apart ? `${id}, apart` : id}</title>
      {apart && <rect x={x - 5} y={y - 7} width={10} height={14} fill={paper} />}
      <path
        d={`M${x - 8} ${y - gap - 5}Q${x} ${y - gap + 3} ${x + 8} ${y - gap - 5}`}
        fill="none"
        stroke={ink}
        strokeWidth={1.3}
      />
      <path
        d={`M${x - 8} ${y + gap}Q${x} ${y + gap + 8} ${x + 8} ${y + gap}`}
        fill="none"
        stroke={ink}
        strokeWidth={1.3}
      />
      <text className="svg-mono" x={x - 13} y={y + 3} textAnchor="end">
        {id.replace('.', '·')}
      </text>
      {fault && <FaultMark spot={{ x, y }} word={fault} />}
    </g>
  );
});

function Ground({ id, metal, layout, fault }: { id: string; metal: string; layout: Layout; fault?: string }) {
  const [spot, bar] = [layout.points[id], layout.bars[metal]];
  if (!spot || !bar) return null;
  return (
    <g>
      <line x1={spot.x} x2={spot.x} y1={spot.y} y2={bar.y} stroke={ink} strokeWidth={1.4} />
      <text className="svg-mono" x={spot.x - 8} y={spot.y + 4} textAnchor="end">
        {id}
      </text>
      {fault && <FaultMark spot={{ x: spot.x, y: (spot.y + bar.y) / 2 + 2 }} word={fault} />}
    </g>
  );
}

function Mount(props: { part: string; route: Route; drawing: Drawing; layout: Layout; fault?: string }) {
  const metal = props.drawing.parts.find((p) => p.id === props.part)?.mount ?? '';
  const [end, bar] = [props.route.at(-1), props.layout.bars[metal]];
  if (!end || !bar) return null;
  const route = [...props.route.slice(0, -1), { x: end.x, y: bar.y }];
  return (
    <g>
      <title>{`${props.part} bolted to the ${metal}`}</title>
      <path d={path(route)} fill="none" stroke={ink} strokeWidth={4} />
      <text className="svg-mono" x={end.x - 8} y={end.y + 4} textAnchor="end">
        case
      </text>
      {props.fault && <FaultMark spot={{ x: end.x, y: end.y }} word={props.fault} />}
    </g>
  );
}

type PointProps = {
  id: string;
  about: string;
  spot?: Spot;
  mark?: PointMark;
  tagShift: number;
  onPoint: (id: string) => void;
};

/** Marks are made anew with every reading; what they show mostly stays. */
function samePoint(a: PointProps, b: PointProps): boolean {
  const { mark: was, ...before } = a;
  const { mark: is, ...after } = b;
  const same = (Object.keys(before) as (keyof typeof before)[]).every((k) => before[k] === after[k]);
  return (
    same &&
    was?.tag === is?.tag &&
    was?.tagColour === is?.tagColour &&
    was?.tells === is?.tells &&
    was?.lead === is?.lead
  );
}

const Point = memo(function Point(props: PointProps) {
  const { id, spot, mark } = props;
  if (!spot) return null;
  const keys = (e: KeyboardEvent) => {
    if (e.key === 'Enter' || e.key === ' ') {
      e.preventDefault();
      e.stopPropagation();
      props.onPoint(id);
    }
  };
  const held = mark?.lead && ` ${mark.lead} lead`;
  const width = (mark?.tag?.length ?? 0) * 7 + 10;
  return (
    <g
      className="point"
      transform={`translate(${spot.x} ${spot.y})`}
      role="button"
      tabIndex={0}
      data-point={id}
      aria-label={`${id}, ${props.about}${mark?.tag ? `, ${mark.tag}` : ''}${held ?? ''}`}
      onClick={(e) => {
        e.stopPropagation();
        props.onPoint(id);
      }}
      onKeyDown={keys}
    >
      <title>{`${id} · ${props.about}`}</title>
      <circle r={11} fill="transparent" />
      <circle
        className="spot"
        r={mark?.lead ? 6.5 : 3.8}
        fill={mark?.lead ? LEADS[mark.lead] : '#fff'}
        stroke={ink}
        strokeWidth={1.3}
      />
      {mark?.tag && (
        <g transform={`translate(7 ${props.tagShift})`}>
          <rect
            y={-8}
            width={width}
            height={15.5}
            rx={3}
            fill={mark.tagColour ?? copper}
            stroke={mark.tells ? brick : rule}
            strokeWidth={mark.tells ? 2 : 0.5}
          />
          <text className="svg-tag" x={5} y={3.5}>
            {mark.tag}
          </text>
        </g>
      )}
    </g>
  );
}, samePoint);
