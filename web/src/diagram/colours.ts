import { copper, slate } from '../theme';

// Wire colours after IEC 60757: in words, and as they look on a harness.
const COLOURS: Record<string, [word: string, looks: string]> = {
  BK: ['black', '#26282b'],
  BN: ['brown', '#7a4a23'],
  RD: ['red', '#c0392b'],
  OG: ['orange', '#d9772b'],
  YE: ['yellow', '#dfb91f'],
  GN: ['green', '#3c8a4a'],
  BU: ['blue', '#2f66a8'],
  VT: ['violet', '#6a3d9a'],
  GY: ['grey', '#8b8d8f'],
  WH: ['white', '#fbfbf8'],
  PK: ['pink', '#e39ab0'],
  GD: ['gold', '#b8923a'],
  TQ: ['turquoise', '#2fa39b'],
  SR: ['silver', '#b9bdc1'],
};

export const COLOUR_CODES = Object.keys(COLOURS);

/** Colours that need an outline to be seen on paper. */
const LIGHT = ['WH', 'SR', 'PK'];

/** Base and tracer of a colour code such as `VT/WH`. */
export function wireColours(code: string | null | undefined): { base: string; tracer?: string; light: boolean } {
  const [base, tracer] = (code ?? '').split('/');
  const found = COLOURS[base ?? '']?.[1] ?? '#5d5a52';
  const light = LIGHT.includes(base ?? '');
  return tracer ? { base: found, tracer: COLOURS[tracer]?.[1], light } : { base: found, light };
}

/** The same in words: `violet with white`. */
export function colourWords(code: string | null | undefined): string {
  const [base, tracer] = (code ?? '').split('/').map((c) => COLOURS[c]?.[0] ?? c.toLowerCase());
  return tracer ? `${base} with ${tracer}` : (base ?? '');
}

/** Stroke width of a wire by its area. */
export function wireWidth(area: number | null | undefined): number {
  const a = area ?? 1;
  return a >= 16 ? 5.5 : a >= 6 ? 4.2 : a >= 2.5 ? 3.4 : 2.6;
}

/** Above this share of the system's voltage a point is drawn as high potential. */
const HIGH = 0.5;

/** The colour of a figure in volts. */
export const voltsColour = (volts: number, systemV: number) => (volts > HIGH * systemV ? copper : slate);
