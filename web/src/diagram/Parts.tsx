// Parts and cavities: boxes, and symbols on their tracks.
import { memo } from 'react';

import type { Drawing, Schemas } from '../api/client';
import { ink, paper } from '../theme';
import type { Scene } from './scene';
import { PartSymbol, UprightSymbol } from './symbols';

type Props = {
  drawing: Drawing;
  scene: Scene;
  /** Connectors and parts that are out of the circuit. */
  apart?: readonly string[];
  onPlace?: (id: string) => void;
};

export const Boxes = memo(function Boxes({ drawing, scene, apart, onPlace }: Props) {
  const parts = new Map(drawing.parts.map((p) => [p.id, p]));
  return scene.boxes.map((box) => {
    const away = apart?.includes(box.id);
    return (
      <g key={box.id} className="part" data-part={box.id} onClick={() => onPlace?.(box.id)}>
        <title>{titleOf(parts.get(box.id))}</title>
        <rect
          x={box.x}
          y={box.y}
          width={box.width}
          height={box.height}
          rx={2.5}
          fill="#fff"
          stroke={ink}
          strokeWidth={1.2}
          strokeDasharray={away ? '4 3' : undefined}
          opacity={away ? 0.5 : 1}
        />
      </g>
    );
  });
});

export const Symbols = memo(function Symbols({ drawing, scene, apart, onPlace }: Props) {
  const parts = new Map(drawing.parts.map((p) => [p.id, p]));
  const connector = new Map(drawing.cavities.map((c) => [c.id, c.connector]));
  return scene.symbols.map((symbol, n) => {
    if (symbol.of === 'cavity') {
      const away = apart?.includes(connector.get(symbol.id) ?? '') ?? false;
      return <Cavity key={n} symbol={symbol} apart={away} onPlace={onPlace} />;
    }
    const part = parts.get(symbol.id);
    if (!part) return null;
    const turn = [symbol.turned && 'rotate(180)', symbol.mirrored && 'scale(-1 1)'].filter(Boolean).join(' ');
    return (
      <g
        key={n}
        className="part"
        data-part={part.id}
        transform={`translate(${symbol.x} ${symbol.y}) ${turn}`}
        style={{ color: ink }}
        opacity={apart?.includes(symbol.id) ? 0.3 : 1}
        onClick={() => onPlace?.(part.id)}
      >
        <title>{titleOf(part)}</title>
        {symbol.of === 'part' && <rect x={-9} y={-11} width={18} height={22} fill={paper} fillOpacity={0.01} />}
        {symbol.of === 'sign' ? <PartSymbol kind={part.kind} /> : <UprightSymbol of={symbol.of} kind={part.kind} />}
      </g>
    );
  });
});

function titleOf(part: Drawing['parts'][number] | undefined): string {
  return part ? [part.id, part.name, part.rating].filter(Boolean).join(' · ') : '';
}

function Cavity(props: { symbol: Schemas['Symbol']; apart: boolean; onPlace?: (id: string) => void }) {
  const { id, x, y } = props.symbol;
  const gap = props.apart ? 3 : 0;
  const half = (at: number) => `M${x - 6} ${at - 3}Q${x} ${at + 3.2} ${x + 6} ${at - 3}`;
  return (
    <g className="part" data-part={id} onClick={() => props.onPlace?.(id)}>
      <title>{props.apart ? `${id}, apart` : id}</title>
      {props.apart && <rect x={x - 4} y={y - 6} width={8} height={12} fill={paper} />}
      <path d={half(y - gap - 1) + half(y + gap + 3)} fill="none" stroke={ink} strokeWidth={1.2} />
    </g>
  );
}
