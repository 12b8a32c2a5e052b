// Connector faces: both halves of a connector as one sees them from the wires' side, where a thin probe
// goes in. The halves are mirror images of each other. A cavity can be clicked like a point of the diagram.
import { Button, Modal } from 'antd';
import { memo, useState, type RefObject } from 'react';

import type { Drawing } from '../api/client';
import { copper, ink, paper, rule } from '../theme';
import { wireColours } from './colours';
import { useChoose, useIsLit, useLighting } from './chosen';
import './Faces.css';

type Props = {
  drawing: Drawing;
  /** Connectors that are unplugged. */
  apart?: string[];
  onPoint?: (point: string) => void;
  /** The button that opens them. */
  opener?: RefObject<HTMLButtonElement | null>;
};

type Half = 'male' | 'female';

const CELL = 56;
const GAP = 8;

const NONE: string[] = [];

export const Faces = memo(function Faces({ drawing, apart = NONE, onPoint, opener }: Props) {
  const [open, setOpen] = useState(false);
  const [chosen, setChosen] = useState('');
  if (drawing.connectors.length === 0) return null;
  const connector = drawing.connectors.find((c) => c.id === chosen) ?? drawing.connectors[0];
  const put =
    onPoint &&
    ((point: string) => {
      setOpen(false);
      onPoint(point);
    });
  return (
    <>
      <Button ref={opener} size="small" id="faces" onClick={() => setOpen(true)}>
        Connectors {onPoint && <kbd>X</kbd>}
      </Button>
      <Modal
        title="Connector faces, seen from the wires’ side"
        open={open}
        onCancel={() => setOpen(false)}
        footer={null}
        width={720}
      >
        <p className="row close-above">
          {drawing.connectors.map((c) => (
            <Button
              key={c.id}
              size="small"
              type={c.id === connector?.id ? 'primary' : 'default'}
              onClick={() => setChosen(c.id)}
            >
              {c.id}
            </Button>
          ))}
        </p>
        {connector && (
          <>
            <p className="close-above">
              {connector.cavities} {connector.cavities === 1 ? 'cavity' : 'cavities'}
              {connector.place && ` · ${connector.place}`} · {apart.includes(connector.id) ? 'unplugged' : 'plugged in'}
            </p>
            <div className="faces">
              <Face drawing={drawing} connector={connector} half="male" onPoint={put} />
              <Face drawing={drawing} connector={connector} half="female" onPoint={put} />
            </div>
          </>
        )}
      </Modal>
    </>
  );
});

type FaceProps = {
  drawing: Drawing;
  connector: Drawing['connectors'][number];
  half: Half;
  onPoint?: (point: string) => void;
};

function Face({ drawing, connector, half, onPoint }: FaceProps) {
  const columns = Math.ceil(connector.cavities / 2);
  const rows = connector.cavities > 1 ? 2 : 1;
  const width = columns * (CELL + GAP) + GAP;
  const cells = Array.from({ length: connector.cavities }, (_, n) => {
    const column = n % columns;
    const mirrored = half === 'female' ? columns - 1 - column : column;
    return { no: n + 1, x: GAP + mirrored * (CELL + GAP), y: GAP + Math.floor(n / columns) * (CELL + GAP) };
  });
  return (
    <figure className="tight">
      <svg width={width} height={rows * (CELL + GAP) + GAP} role="group" aria-label={`${connector.id}, ${half} half`}>
        <rect
          x={1}
          y={1}
          width={width - 2}
          height={rows * (CELL + GAP) + GAP - 2}
          rx={half === 'male' ? 2 : 12}
          fill={paper}
          stroke={ink}
        />
        {cells.map(({ no, x, y }) => (
          <Cell
            key={no}
            drawing={drawing}
            id={`${connector.id}.${no}`}
            no={no}
            x={x}
            y={y}
            half={half}
            onPoint={onPoint}
          />
        ))}
      </svg>
      <figcaption className="quiet">{half} half</figcaption>
    </figure>
  );
}

function Cell(props: {
  drawing: Drawing;
  id: string;
  no: number;
  x: number;
  y: number;
  half: Half;
  onPoint?: (point: string) => void;
}) {
  const { drawing, no, x, y, half, onPoint } = props;
  const cavity = drawing.cavities.find((c) => c.id === props.id);
  const point = cavity?.[half];
  const wire = point ? drawing.wires.find((w) => w.from === point || w.to === point) : undefined;
  const colours = wireColours(wire?.color);
  const about = wire ? `${wire.id}, ${wire.label}` : 'no wire';
  const { choose } = useChoose();
  const lit = useIsLit(point ?? '') && point !== undefined;
  const press = () => {
    if (!point) return;
    choose(point);
    onPoint?.(point);
  };
  const centre = { cx: x + CELL / 2, cy: y + 21 };
  return (
    <g
      role={point && onPoint ? 'button' : undefined}
      tabIndex={point && onPoint ? 0 : undefined}
      aria-label={point && onPoint ? `${point}: ${about}` : undefined}
      data-cavity={point}
      style={{ cursor: point && onPoint ? 'pointer' : 'default' }}
      {...useLighting(point ?? '')}
      onClick={press}
      onKeyDown={(e) => e.key === 'Enter' && press()}
    >
      <title>{point ? `${point}: ${about}` : `cavity ${no}: empty`}</title>
      <rect
        x={x}
        y={y}
        width={CELL}
        height={CELL}
        rx={4}
        fill="#fff"
        stroke={lit ? copper : rule}
        strokeWidth={lit ? 2.5 : 1}
      />
      {wire && <circle {...centre} r={10} fill={colours.base} stroke={colours.light ? ink : colours.base} />}
      {wire && colours.tracer && (
        <path
          d={`M${centre.cx - 8} ${centre.cy + 8}L${centre.cx + 8} ${centre.cy - 8}`}
          stroke={colours.tracer}
          strokeWidth={4}
        />
      )}
      {!wire && <circle {...centre} r={10} fill="none" stroke={rule} strokeDasharray="2 2" />}
      <text className="svg-mono svg-bold" x={x + 4} y={y + 13}>
        {no}
      </text>
      <text className="svg-mono" x={x + CELL / 2} y={y + 42} textAnchor="middle" fontSize={10}>
        {wire?.id}
      </text>
      <text className="svg-mono" x={x + CELL / 2} y={y + 53} textAnchor="middle" fontSize={10}>
        {wire?.color}
      </text>
    </g>
  );
}
