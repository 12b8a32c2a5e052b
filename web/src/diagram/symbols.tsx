// Symbols after IEC 60617, drawn in a square of 22 by 22 about their middle.
import type { ReactNode } from 'react';

const line = { fill: 'none', stroke: 'currentColor', strokeWidth: 1.3 };

const contact = <path d="M0 10V4L-6 -6M0 -5V-10" />;
const coil = <rect x={-9} y={-4} width={18} height={8} />;
const resistor = <rect x={-4} y={-9} width={8} height={18} />;
const cross = <path d="M-5.7 -5.7L5.7 5.7M5.7 -5.7L-5.7 5.7" />;
const diode = <path d="M-6 -5H6L0 5ZM-6 5H6M0 -10V-5M0 5V10" />;
const motor = (
  <>
    <circle r={9} />
    <text y={4} textAnchor="middle" fontSize={11} fill="currentColor" stroke="none">
      M
    </text>
  </>
);
/** The mark of how a contact is worked, left of it. */
const worked = (by: string) => (
  <g {...line}>
    {contact}
    <path d={`M-4 0H-10${by}`} />
  </g>
);

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
  relay: (
    <g {...line}>
      <rect x={-11} y={-4} width={10} height={8} />
      <path d="M7 10V4L2 -6M7 -5V-10M-1 0H4" strokeDasharray="none" />
    </g>
  ),
  changeover_relay: (
    <g {...line}>
      <rect x={-11} y={-4} width={9} height={8} />
      <path d="M7 10V4L2 -6M10 -5V-10M3 -10V-6M-2 0H4" />
    </g>
  ),
  switch: worked('M-10 -3V3'),
  clutch_switch: worked('M-10 -4L-8 4'),
  neutral_switch: worked('M-10 -4V4M-12 0H-10'),
  lanyard_switch: worked('A2 2 0 1 1 -12 2'),
  horn_button: worked('M-10 -4V4M-10 -4H-7M-10 4H-7'),
  starter: <g {...line}>{motor}</g>,
  blower: <g {...line}>{motor}</g>,
  lamp: (
    <g {...line}>
      <circle r={8} />
      {cross}
    </g>
  ),
  warning_lamp: (
    <g {...line}>
      <circle r={8} />
      {cross}
    </g>
  ),
  resistor: <g {...line}>{resistor}</g>,
  heater: (
    <g {...line}>
      {resistor}
      <path d="M-4 -4H4M-4 1H4M-4 5H4" />
    </g>
  ),
  thermistor: (
    <g {...line}>
      {resistor}
      <path d="M-8 8H-5L7 -8" />
    </g>
  ),
  potentiometer: (
    <g {...line}>
      {resistor}
      <path d="M10 0H5M7.5 -2.5L4.5 0L7.5 2.5" />
    </g>
  ),
  injector: (
    <g {...line}>
      {coil}
      <path d="M-3 4L0 10L3 4" />
    </g>
  ),
  solenoid_valve: (
    <g {...line}>
      {coil}
      <path d="M-6 10L6 5V10L-6 5Z" />
    </g>
  ),
  horn: (
    <g {...line}>
      <path d="M-8 -5A8 8 0 0 1 8 -5ZM-5 -5V5M5 -5V5" />
    </g>
  ),
  diode: <g {...line}>{diode}</g>,
  led: (
    <g {...line}>
      {diode}
      <path d="M7 -4L11 -8M7 0L11 -4M11 -8H8.6M11 -8V-5.6M11 -4H8.6M11 -4V-1.6" strokeWidth={1} />
    </g>
  ),
};

/** The symbol of a kind of part; nothing for a kind that has none. */
export function PartSymbol({ kind }: { kind: string }) {
  return <>{SYMBOLS[kind] ?? null}</>;
}
