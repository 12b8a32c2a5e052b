// An attempt for the tests: a lamp on a machine without a key, whose battery is called B7.
import type { AttemptView, BenchView, Instrument, LedgerLine } from '../api/client';

export const VOLTS: Instrument = {
  function: 'dc_volts',
  label: 'DC volts',
  hint: 'V',
  put_on: 'points',
  settings: [],
  ranged: true,
  is_dc_volts: true,
  is_fused: false,
};
export const OHMS: Instrument = { ...VOLTS, function: 'ohms', label: 'Ohms', hint: 'Ω', is_dc_volts: false };
export const CLAMP: Instrument = {
  ...VOLTS,
  function: 'clamp_amps',
  label: 'Clamp',
  hint: 'A',
  put_on: 'wire',
  is_dc_volts: false,
};
export const CODES: Instrument = {
  ...VOLTS,
  function: 'scan_codes',
  label: 'Codes',
  hint: '',
  put_on: 'module',
  is_dc_volts: false,
};
export const TESTER: Instrument = {
  ...VOLTS,
  function: 'spark_tester',
  label: 'Spark tester',
  put_on: 'ignition_lead',
  settings: [
    { value: 6, label: '6 mm gap' },
    { value: 10, label: '10 mm gap' },
  ],
  usual_setting: 10,
  ranged: false,
  is_dc_volts: false,
};
export const ALL = [VOLTS, OHMS, CLAMP, CODES, TESTER];

export function ledgerLine(step: number, more: Partial<LedgerLine> = {}): LedgerLine {
  return {
    step,
    state: 'off · lamps on',
    function: 'dc_volts',
    red: 'H1.1',
    black: 'B7.-',
    shown: { text: '12.31', unit: 'V', range: '60 V', value: { number: 12.31 }, beeps: false },
    concluded: [],
    after_repair: false,
    ...more,
  };
}

export function bench(more: Partial<BenchView> = {}): BenchView {
  return {
    steps: 0,
    minutes: 0,
    state: 'off · lamps on',
    controls: [{ name: 'lamps', positions: ['off', 'on'], position: 'on' }],
    notices: [],
    ledger: [],
    captures: [],
    repairs: [],
    cleared: [],
    suspected: [],
    hints: [],
    notes: [],
    seen: [],
    apart: [],
    joined: [],
    supported: false,
    moved: [],
    lent: [],
    warm: false,
    wet: false,
    zeroed: false,
    meter_fuse_blown: false,
    handed_in: false,
    pierced: [],
    missing: [],
    ...more,
  };
}

export function attempt(more: Partial<AttemptView> = {}): AttemptView {
  const point = (id: string) => ({ id, about: `post ${id}`, reach_minutes: 1 });
  const mode = { mode: 'open', about: 'broken through', severity: null, needs_other: false };
  return {
    id: 1,
    title: 'One lamp stays dark',
    student: 'Mira',
    own: true,
    marks: false,
    in_class: false,
    purpose: 'marks',
    words: 'One lamp stays dark.',
    complaint: 'Lamps: lamp dark.',
    cautions: ['Keep clear.'],
    warnings: [],
    predictions: true,
    functions: ALL.map((i) => i.function),
    scope: false,
    forbidden: [],
    forbidden_actions: [],
    papers: { diagram: true, connectors: true, healthy: false },
    healthy: [],
    questions: [],
    method: '',
    sweeps: [0.02],
    drawing: {
      title: 'Lamps',
      shape: '0',
      parts: [],
      wires: [
        { id: 'W1', from: 'B7.+', to: 'C1.1m', color: 'RD', area_mm2: 1, label: '1 RD' },
        { id: 'W2', from: 'C1.1f', to: 'H1.1', color: 'RD', area_mm2: 1, label: '1 RD' },
      ],
      cavities: [],
      connectors: [{ id: 'C1', cavities: 1, place: null }],
      splices: [],
      grounds: [],
      metals: [],
      points: ['B7.+', 'B7.-', 'C1.1m', 'C1.1f', 'H1.1'].map(point),
      negative: 'B7.-',
      system_v: 24,
      leads: [],
      layout: {},
    },
    paths: [
      {
        title: 'Lamp',
        load: 'H1',
        stops: [
          { point: 'B7.+', through: null, ground_side: false, reachable: true },
          { point: 'C1.1m', through: 'W1', ground_side: false, reachable: true },
          { point: 'C1.1f', through: 'C1.1', ground_side: false, reachable: false },
          { point: 'H1.1', through: 'W2', ground_side: false, reachable: true },
        ],
      },
    ],
    places: ['W1', 'C1.1', 'W2'].map((id) => ({
      id,
      about: `wire ${id}`,
      modes: [mode],
      repairs: [{ how: 'join', text: 'splice the wire' }],
    })),
    comes_apart: ['C1'],
    alike: [],
    known_good: [],
    binder: [],
    look_alikes: [],
    modules: [],
    harnesses: [],
    bench: bench(),
    ...more,
  } as unknown as AttemptView;
}
