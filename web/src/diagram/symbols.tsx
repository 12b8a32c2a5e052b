// Symbols after IEC 60617, drawn in a square of 22 by 22 about their middle.
import type { ReactNode } from 'react';

const line = { fill: 'none', stroke: 'currentColor', strokeWidth: 1.3 };

const SYMBOLS: Record<string, ReactNode> = {
  battery: (
    <g {...line}>
      <path d="M-11 0H-3M3 0H11M-3 -8V8" />
      <path d="M3 -4V4" strokeWidth={2.6} />
    </g>
  ),
  key_switch: (
    <g {...line}>
      <path d="M0 10V4L-6 -6M0 -5V-10M5 -5V-10M-9 -1L-4 1M-9 -4V2" />
    </g>
  ),
  clutch_switch: (
    <g {...line}>
      <path d="M0 10V4L-6 -6M0 -5V-10M-4 0H-10M-10 -4V4" />
    </g>
  ),
  relay: (
    <g {...line}>
      <rect x={-11} y={-4} width={10} height={8} />
      <path d="M7 10V4L2 -6M7 -5V-10M-1 0H4" strokeDasharray="none" />
    </g>
  ),
  starter: (
    <g {...line}>
      <circle r={9} />
      <text y={4} textAnchor="middle" fontSize={11} fill="currentColor" stroke="none">
        M
      </text>
    </g>
  ),
  lamp: (
    <g {...line}>
      <circle r={8} />
      <path d="M-5.7 -5.7L5.7 5.7M5.7 -5.7L-5.7 5.7" />
    </g>
  ),
  resistor: (
    <g {...line}>
      <rect x={-4} y={-9} width={8} height={18} />
    </g>
  ),
  diode: (
    <g {...line}>
      <path d="M-6 -5H6L0 5ZM-6 5H6M0 -10V-5M0 5V10" />
    </g>
  ),
};

/** The symbol of a kind of part; nothing for a kind that has none. */
export function PartSymbol({ kind }: { kind: string }) {
  return <>{SYMBOLS[kind] ?? null}</>;
}
