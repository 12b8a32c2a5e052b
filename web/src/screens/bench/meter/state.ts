// The meter in the student's hand: what it is set to, where its leads are, what is written down, and which
// reading its display shows.
import type { Instrument, MeterFunction, Supposed, Touch } from '../../../api/client';

export type Which = 'red' | 'black';
export type Leads = Record<Which, string>;

export type MeterState = {
  fn: MeterFunction;
  leads: Leads;
  /** The lead that the next point goes to, once its field has been chosen. */
  active: Which | null;
  expected: string;
  /** The fault with which that is expected; none of a healthy circuit. */
  supposing: Supposed | null;
  touch: Touch;
  /** How the instrument is set, if it has to be and was. */
  setting?: number;
  /** The step whose reading the display shows; none once anything has been changed since. */
  shown?: number;
};

export type MeterEvent =
  | { do: 'set'; to: Instrument; from: Instrument; modules: string[] }
  | { do: 'put'; lead: Which; point: string }
  | { do: 'point'; point: string }
  | { do: 'activate'; lead: Which | null }
  | { do: 'expect'; text: string }
  | { do: 'suppose'; fault: Supposed | null }
  | { do: 'touch'; touch: Touch }
  | { do: 'adjust'; setting: number }
  | { do: 'taken'; step?: number }
  | { do: 'show'; step: number }
  | { do: 'blank' };

export function freshMeter(fn: MeterFunction, negative: string): MeterState {
  return { fn, leads: { red: '', black: negative }, active: null, expected: '', supposing: null, touch: 'pin' };
}

/** Where the next point goes when no field has been chosen: to red, unless only black has none. */
function nextLead(leads: Leads): Which {
  return leads.red !== '' && leads.black === '' ? 'black' : 'red';
}

/** The figure on the display belongs to how the meter stood: what changes that, blanks it. */
export function meterReducer(state: MeterState, event: MeterEvent): MeterState {
  switch (event.do) {
    case 'set': {
      // A clamp goes around a wire, leads on points: changing between them takes the red lead off.
      const moved = event.to.put_on !== event.from.put_on;
      const red = event.to.put_on === 'module' ? (event.modules[0] ?? '') : '';
      return {
        ...state,
        fn: event.to.function,
        leads: moved ? { ...state.leads, red } : state.leads,
        setting: undefined,
        shown: undefined,
      };
    }
    case 'put':
      return { ...state, leads: { ...state.leads, [event.lead]: event.point }, shown: undefined };
    case 'point': {
      const lead = state.active ?? nextLead(state.leads);
      return { ...state, leads: { ...state.leads, [lead]: event.point }, active: null, shown: undefined };
    }
    case 'activate':
      return { ...state, active: event.lead };
    case 'expect':
      return { ...state, expected: event.text };
    case 'suppose':
      return { ...state, supposing: event.fault };
    case 'touch':
      return { ...state, touch: event.touch, shown: undefined };
    case 'adjust':
      return { ...state, setting: event.setting, shown: undefined };
    case 'taken':
      return { ...state, expected: '', supposing: null, shown: event.step };
    case 'show':
      return { ...state, shown: event.step };
    case 'blank':
      return { ...state, shown: undefined };
  }
}
