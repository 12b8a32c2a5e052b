// Symbols after IEC 60617, drawn in a square of 22 by 22 about their middle.
import type { ReactNode } from 'react';

const line = { fill: 'none', stroke: 'currentColor', strokeWidth: 1.3 };

const contact = <path d="M0 10V4L-6 -6M0 -5V-10" />;
const coil = <rect x={-9} y={-4} width={18} height={8} />;
const resistor = <rect x={-4} y={-9} width={8} height={18} />;
const cross = <path d="M-5.7 -5.7L5.7 5.7M5.7 -5.7L-5.7 5.7" />;
const diode = <path d="M-6 -5H6L0 5ZM-6 5H6M0 -10V-5M0 5V10" />;
const letter = (text: string) => (
  <text y={4} textAnchor="middle" fontSize={text.length > 1 ? 9 : 11} fill="currentColor" stroke="none">
    {text}
  </text>
);
const capacitor = <path d="M0 -10V-2M0 10V2M-8 -2H8M-8 2H8" />;
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

const magneto = (
  <g {...line}>
    <path d="M-9 9V-3A5 5 0 0 1 -1 -3V9M-9 5H-6M-4 5H-1M4 -10V-9A2 2 0 0 0 4 -5A2 2 0 0 0 4 -1A2 2 0 0 0 4 3A2 2 0 0 0 4 7V10M8 -9V9" />
  </g>
);

const singleCoil = (
  <g {...line}>
    <path d="M-7 -10V-8A2.6 2.6 0 0 1 -7 -3A2.6 2.6 0 0 1 -7 2A2.6 2.6 0 0 1 -7 7V10M-1.5 -9V9M1.5 -9V9M7 -10V-9A2 2 0 0 0 7 -5A2 2 0 0 0 7 -1A2 2 0 0 0 7 3A2 2 0 0 0 7 7V10" />
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
  alternator: (
    <g {...line}>
      <circle r={9} />
      {letter('G')}
      <path d="M-3 7Q-1.5 5 0 7T3 7" strokeWidth={1} />
    </g>
  ),
  stator: (
    <g {...line}>
      <circle r={9} />
      {letter('G')}
      <path d="M0 -9V-5M-7.8 4.5L-4.3 2.5M7.8 4.5L4.3 2.5" />
    </g>
  ),
  regulator_rectifier: (
    <g {...line}>
      <rect x={-9} y={-9} width={18} height={18} />
      <path d="M-9 9L9 -9M-6 -5Q-4.5 -7 -3 -5T0 -5M2 4H7M2 6.5H7" />
    </g>
  ),
  condenser: <g {...line}>{capacitor}</g>,
  ballast: <g {...line}>{resistor}</g>,
  coded_key: (
    <g {...line}>
      {resistor}
      <path d="M-8 0H-10A2 2 0 1 1 -12 -2" />
    </g>
  ),
  gauge: (
    <g {...line}>
      <circle r={9} />
      <path d="M0 5L5 -5M2.4 -4L5 -5L5.4 -2.2" />
    </g>
  ),
  sender: (
    <g {...line}>
      {resistor}
      <path d="M-9 7L9 -7M6 -7H9V-4" />
    </g>
  ),
  hall_sensor: (
    <g {...line}>
      <rect x={-9} y={-9} width={18} height={18} />
      <path d="M-5 -5L5 5M-5 5L5 -5" />
    </g>
  ),
  optical_sensor: (
    <g {...line}>
      <rect x={-9} y={-9} width={18} height={18} />
      <path d="M-6 -3H-1M-3 -5L-1 -3L-3 -1M1 -5V5M1 0L6 -4M1 0L6 4" />
    </g>
  ),
  oil_pressure_switch: worked('M-12 -4H-8V4H-12Z'),
  temperature_switch: worked('M-10 -4V4M-12 4A2 2 0 1 0 -8 4'),
  paired_potentiometer_same: (
    <g {...line}>
      <rect x={-8} y={-9} width={5} height={18} />
      <rect x={3} y={-9} width={5} height={18} />
      <path d="M-3 -3H3M-3 3H3" strokeDasharray="2 2" />
    </g>
  ),
  paired_potentiometer_opposite: (
    <g {...line}>
      <rect x={-8} y={-9} width={5} height={18} />
      <rect x={3} y={-9} width={5} height={18} />
      <path d="M-3 -4L3 4" strokeDasharray="2 2" />
    </g>
  ),
  control_module: (
    <g {...line}>
      <rect x={-10} y={-8} width={20} height={16} rx={2} />
      <path d="M-6 -8V-11M0 -8V-11M6 -8V-11M-6 8V11M0 8V11M6 8V11" />
    </g>
  ),
  ignition_coil: singleCoil,
  capacitor_coil: singleCoil,
  pencil_coil: (
    <g {...line}>
      <path d="M-7 -10V-8A2.6 2.6 0 0 1 -7 -3A2.6 2.6 0 0 1 -7 2V4M-9.5 4H-4.5M-7 4L-9 9M-1.5 -9V9M1.5 -9V9M7 -10V-9A2 2 0 0 0 7 -5A2 2 0 0 0 7 -1A2 2 0 0 0 7 3A2 2 0 0 0 7 7V10" />
    </g>
  ),
  magneto,
  breaker_magneto: magneto,
  magnetic_pickup: (
    <g {...line}>
      <path d="M2 -10V-8A2.6 2.6 0 0 1 2 -3A2.6 2.6 0 0 1 2 2A2.6 2.6 0 0 1 2 7V10M7 -9V9M-10 -7L-5 -4L-10 -1L-5 2L-10 5" />
    </g>
  ),
  ignition_module: (
    <g {...line}>
      <rect x={-9} y={-9} width={18} height={18} rx={2} />
      <path d="M-6 0H-2M-2 -4V4M-2 -2L4 -6M-2 2L4 6M1.5 6.5L4 6L3 3.6" />
    </g>
  ),
  engine_computer: (
    <g {...line}>
      <rect x={-10} y={-8} width={20} height={16} rx={2} />
      <path d="M-7 2H-5V-3H-2V2H1V-3H4V2H7M-6 5H6" strokeWidth={1.1} />
    </g>
  ),
  stator_fed_capacitor_box: (
    <g {...line}>
      <rect x={-10} y={-9} width={20} height={18} rx={2} />
      <path d="M-8 0Q-6.5 -4 -5 0T-2 0M4 -6V-1.5M4 6V1.5M0 -1.5H8M0 1.5H8" />
    </g>
  ),
  battery_fed_capacitor_box: (
    <g {...line}>
      <rect x={-10} y={-9} width={20} height={18} rx={2} />
      <path d="M-8 -2H-3M-7 1H-4M4 -6V-1.5M4 6V1.5M0 -1.5H8M0 1.5H8" />
    </g>
  ),
  twin_coil: (
    <g {...line}>
      <path d="M-7 -10V-8A2.6 2.6 0 0 1 -7 -3A2.6 2.6 0 0 1 -7 2A2.6 2.6 0 0 1 -7 7V10M-1.5 -9V9M1.5 -9V9M9.5 -9H7A2 2 0 0 0 7 -5A2 2 0 0 0 7 -1A2 2 0 0 0 7 3A2 2 0 0 0 7 7V9H9.5" />
    </g>
  ),
  stop_lanyard: worked('A2 2 0 1 1 -12 2'),
  stop_key: worked('H-8M-12 -3V3'),
  points: worked('M-12 0A3 3 0 1 0 -12 -0.1'),
  distributor: (
    <g {...line}>
      <circle r={9} />
      <path d="M0 0L5 -5M0 0V0.1" />
      <circle r={1.5} />
      <circle cx={0} cy={-9} r={1.5} fill="currentColor" />
      <circle cx={9} cy={0} r={1.5} fill="currentColor" />
      <circle cx={0} cy={9} r={1.5} fill="currentColor" />
      <circle cx={-9} cy={0} r={1.5} fill="currentColor" />
    </g>
  ),
  spark_plug: (
    <g {...line}>
      <path d="M0 -10V-2M0 10V4M-3 -5L0 -1L3 -5M-3 7L0 3L3 7" />
    </g>
  ),
  ignition_computer: (
    <g {...line}>
      <rect x={-10} y={-8} width={20} height={16} rx={2} />
      <path d="M-6 3H-3V-3H0V3H3V-3H6" />
    </g>
  ),
  engine: (
    <g {...line}>
      <rect x={-7} y={-9} width={14} height={8} />
      <path d="M-7 -4H7M0 -1V4" />
      <circle cy={7} r={3} />
    </g>
  ),
  hand_starter: (
    <g {...line}>
      <circle r={6} />
      <path d="M6 0C10 4 6 8 9 11" />
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

/** How far the symbols of two-terminal parts reach up and down from their middle. */
const REACH: Record<string, [number, number]> = {
  lamp: [8, 8],
  warning_lamp: [8, 8],
  blower: [9, 9],
  gauge: [9, 9],
  stator: [9, 9],
  injector: [4, 4],
  solenoid_valve: [4, 4],
  horn: [5, 4],
  resistor: [9, 9],
};

const fuse = (
  <g {...line} strokeWidth={1.2}>
    <rect x={-4} y={-8} width={8} height={16} fill="#fff" />
    <path d="M0 -10V10" />
  </g>
);
const breaker = (
  <g {...line} strokeWidth={1.2}>
    <rect x={-6} y={-8} width={12} height={16} fill="#fff" />
    <path d="M0 10V4L-4 -4M0 -5V-10" />
  </g>
);
const horn = (
  <g {...line}>
    <path d="M0 -10V-5M0 4V10M-8 -5H8A8 9 0 0 1 -8 -5Z" />
  </g>
);
const relayCoil = (
  <g {...line} strokeWidth={1.2}>
    <rect x={-8} y={-5} width={16} height={10} fill="#fff" />
  </g>
);
const relayContact = (
  <g {...line} strokeWidth={1.2}>
    <path d="M0 6L-6.5 -6M0 -6.2V-5.8" />
  </g>
);
const UPRIGHT: Record<string, ReactNode> = { fuse, fusible_link: fuse, circuit_breaker: breaker, horn };

/** A symbol on its track, from ten units above its middle to ten below. */
export function UprightSymbol({ of, kind }: { of: 'part' | 'coil' | 'contact' | 'sign' | 'cavity'; kind: string }) {
  if (of === 'coil') return relayCoil;
  if (of === 'contact') return relayContact;
  const own = UPRIGHT[kind];
  if (own) return <>{own}</>;
  const symbol = SYMBOLS[kind];
  if (!symbol) return <g {...line}>{<path d="M-8 -8H8V8H-8ZM0 -10V-8M0 8V10" fill="#fff" />}</g>;
  const [up, down] = REACH[kind] ?? [10, 10];
  return (
    <>
      {symbol}
      <path d={`M0 -10V-${up}M0 ${down}V10`} {...line} />
    </>
  );
}

/** The symbol of a kind of part; nothing for a kind that has none. */
export function PartSymbol({ kind }: { kind: string }) {
  return <>{SYMBOLS[kind] ?? null}</>;
}
