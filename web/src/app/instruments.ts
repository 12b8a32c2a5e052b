// The instruments there are, as the server describes them: labels, what each is put on, how it is set.
import { useQuery } from '@tanstack/react-query';
import { createContext, useContext } from 'react';

import { api, ask, type Instrument, type MeterFunction } from '../api/client';

/** Asked once: they stay what they are while the page is open. */
export function useInstrumentList(enabled: boolean) {
  return useQuery({
    queryKey: ['instruments'],
    queryFn: () => ask(api.GET('/api/instruments')),
    staleTime: Infinity,
    enabled,
  });
}

export const InstrumentsContext = createContext<Instrument[]>([]);

/** All instruments, in the order of a dial. */
export function useInstruments(): Instrument[] {
  return useContext(InstrumentsContext);
}

/** The instrument of a function. */
export function useInstrument(): (fn: MeterFunction) => Instrument {
  const all = useInstruments();
  return (fn) => all.find((i) => i.function === fn) ?? unknown(fn);
}

/** What the server names and the page has not heard of yet is called by its name. */
function unknown(fn: MeterFunction): Instrument {
  return {
    function: fn,
    label: fn.replaceAll('_', ' '),
    hint: '',
    put_on: 'points',
    settings: [],
    ranged: true,
    is_dc_volts: false,
    is_fused: false,
  };
}
