// The units one likes to read and type: a matter of the reader, so it is kept in the browser. Documents
// hold mm² or AWG as it was typed, and °C.
import { useState } from 'react';

import type { WireDoc } from '../api/client';

export type Units = 'mm², °C' | 'AWG, °F';

export const UNITS: Units[] = ['mm², °C', 'AWG, °F'];
const KEY = 'cimento.units';

export function useUnits(): [Units, (units: Units) => void] {
  const [units, setUnits] = useState<Units>(() => UNITS.find((u) => u === localStorage.getItem(KEY)) ?? 'mm², °C');
  const choose = (chosen: Units) => {
    localStorage.setItem(KEY, chosen);
    setUnits(chosen);
  };
  return [units, choose];
}

/** A temperature as it is shown, and as it was typed. */
export const shownDegrees = (celsius: number, units: Units) =>
  units === 'AWG, °F' ? Math.round(celsius * 18 + 320) / 10 : celsius;
export const typedDegrees = (shown: number, units: Units) =>
  units === 'AWG, °F' ? Math.round(((shown - 32) * 50) / 9) / 10 : shown;

type Lead = NonNullable<WireDoc['lead']>;
type Size = Pick<WireDoc, 'area_mm2' | 'awg' | 'lead'>;

/** What a high-voltage lead is made of, as it is shown in place of a size. */
export const LEADS: Record<Lead, string> = { carbon: 'carbon', wire_wound: 'wirewound', copper: 'copper' };

/** The size of a wire as it is shown: the gauge with its name where the number alone would be an area. */
export function shownSize(wire: Size, units: Units): string {
  if (wire.lead) return LEADS[wire.lead];
  const gauge = (awg: number) => (awg <= 0 ? `${1 - awg}/0` : String(awg));
  if (typeof wire.awg === 'number') return units === 'AWG, °F' ? gauge(wire.awg) : `${gauge(wire.awg)} AWG`;
  if (typeof wire.area_mm2 === 'number') return units === 'AWG, °F' ? `${wire.area_mm2} mm²` : String(wire.area_mm2);
  return '';
}

/** A size as it was typed: "1.5", "16 AWG", "2/0 awg", "1.5 mm2"; a bare number is in the liked unit. */
export function typedSize(text: string, units: Units): { area_mm2?: number; awg?: number; lead?: Lead } | undefined {
  const lead = (Object.keys(LEADS) as Lead[]).find((l) =>
    LEADS[l].startsWith(
      text
        .trim()
        .toLowerCase()
        .replace(/[\s_-]/g, ''),
    ),
  );
  if (lead && text.trim().length > 2) return { lead };
  const found = /^(?:awg\s*)?([\d.,]+)(\/0)?\s*(awg|mm2|mm²)?$/i.exec(text.trim());
  if (!found?.[1]) return undefined;
  const number = Number(found[1].replace(',', '.'));
  if (!Number.isFinite(number)) return undefined;
  const named = found[3]?.toLowerCase() ?? (/^awg/i.test(text.trim()) || found[2] ? 'awg' : undefined);
  const gauge = named ? named === 'awg' : units === 'AWG, °F';
  if (!gauge) return { area_mm2: number };
  return { awg: found[2] ? 1 - Math.round(number) : Math.round(number) };
}
