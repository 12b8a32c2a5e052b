// How bad a fault is, on a slider: by decades where a range goes over several, evenly elsewhere.

/** What a severity may be. */
export type Range = { least: number; most: number };

/** Steps of the slider. */
export const STEPS = 200;

/** Wider than this, each decade gets as much room as another. */
const EVEN = 50;

/** The least of a range that begins at nothing, as a share of its most. */
const NOTHING = 1e-4;

/** Figures that a severity is given with. */
const FIGURES = 2;

const byDecades = ({ least, most }: Range) => least <= 0 || most / least > EVEN;
const bottom = ({ least, most }: Range) => (least > 0 ? least : most * NOTHING);

/** The severity at a step. */
export function valueOf(range: Range, step: number): number {
  const { least, most } = range;
  if (step <= 0) return least;
  if (step >= STEPS) return most;
  const share = step / STEPS;
  const from = bottom(range);
  const value = byDecades(range) ? from * (most / from) ** share : least + (most - least) * share;
  return Math.min(most, Math.max(least, Number(value.toPrecision(FIGURES))));
}

/** The step of a severity. */
export function stepOf(range: Range, value: number): number {
  const { least, most } = range;
  if (value <= least) return 0;
  if (value >= most) return STEPS;
  const from = bottom(range);
  const share = byDecades(range) ? Math.log(value / from) / Math.log(most / from) : (value - least) / (most - least);
  return Math.min(STEPS - 1, Math.max(1, Math.round(share * STEPS)));
}
