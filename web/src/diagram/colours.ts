// Wire colours after IEC 60757, as they look on a harness.
const COLOURS: Record<string, string> = {
  BK: '#26282b',
  BN: '#7a4a23',
  RD: '#c0392b',
  OG: '#d9772b',
  YE: '#dfb91f',
  GN: '#3c8a4a',
  BU: '#2f66a8',
  VT: '#6a3d9a',
  GY: '#8b8d8f',
  WH: '#fbfbf8',
  PK: '#e39ab0',
  GD: '#b8923a',
  TQ: '#2fa39b',
  SR: '#b9bdc1',
};

/** Colours that need an outline to be seen on paper. */
const LIGHT = ['WH', 'SR', 'PK'];

/** Base and tracer of a colour code such as `VT/WH`. */
export function wireColours(code: string | null | undefined): { base: string; tracer?: string; light: boolean } {
  const [base, tracer] = (code ?? '').split('/');
  const found = COLOURS[base ?? ''] ?? '#5d5a52';
  const light = LIGHT.includes(base ?? '');
  return tracer ? { base: found, tracer: COLOURS[tracer], light } : { base: found, light };
}

/** Stroke width of a wire by its area. */
export function wireWidth(area: number | null | undefined): number {
  const a = area ?? 1;
  return a >= 16 ? 5.5 : a >= 6 ? 4.2 : a >= 2.5 ? 3.4 : 2.6;
}
