// The voltage staircase of the bench: what was read along a path in the present state, and how the places passed
// on the way are held.
import type { AttemptView, BenchView, Instrument, LedgerLine, MeterFunction } from '../../api/client';
import { voltsColour } from '../../diagram/colours';
import type { PointMark } from '../../diagram/Diagram';
import type { StairPoint } from '../../staircase/Staircase';

type Path = AttemptView['paths'][number];
type Passed = NonNullable<StairPoint['passed']>;

/** How a place is held by the student. */
export function held(view: Pick<BenchView, 'cleared' | 'suspected'>, place: string): 'open' | 'cleared' | 'suspect' {
  if (view.cleared.includes(place)) return 'cleared';
  return view.suspected.includes(place) ? 'suspect' : 'open';
}

/** The places passed along a path, each once; only those that can be named. */
export function placesAlong(path: Path | undefined, known: Set<string>): string[] {
  const passed = path?.stops.flatMap((s) => (s.through && known.has(s.through) ? [s.through] : [])) ?? [];
  return [...new Set(passed)];
}

/** The places passed on the way to each reachable stop, as the student holds them. */
export function passedTo(path: Path | undefined, view: BenchView, known: Set<string>): Passed[] {
  const out: Passed[] = [];
  let passed: string[] = [];
  for (const stop of path?.stops ?? []) {
    if (stop.through && known.has(stop.through) && !passed.includes(stop.through)) passed.push(stop.through);
    if (!stop.reachable) continue;
    out.push(passed.map((place) => ({ place, held: held(view, place) })));
    passed = [];
  }
  return out;
}

type Reads = { state: string; negative: string; instrument: (fn: MeterFunction) => Instrument };

/** The latest voltage at each stop in the machine's present state, against the battery's negative post. */
export function stairPoints(
  stops: string[],
  ledger: LedgerLine[],
  { state, negative, instrument }: Reads,
): StairPoint[] {
  return stops.map((point) => {
    const line = ledger.findLast(
      (l) => l.red === point && l.black === negative && l.state === state && instrument(l.function).is_dc_volts,
    );
    if (!line) return { point };
    const value = line.shown.value;
    const volts = typeof value === 'object' && 'number' in value ? value.number : undefined;
    return {
      point,
      expected: line.expected_value ?? undefined,
      dot:
        volts === undefined
          ? undefined
          : { volts, tone: line.verdict === 'normal' ? 'good' : line.verdict ? 'bad' : 'plain' },
    };
  });
}

/** What was read of each point in the machine's present state, to stand on the diagram. */
export function readMarks(ledger: LedgerLine[], reads: Reads, systemV: number): Record<string, PointMark> {
  const points = [...new Set(ledger.flatMap((l) => l.red ?? []))];
  const marks = stairPoints(points, ledger, reads).flatMap(({ point, dot }): [string, PointMark][] => {
    if (!dot) return [];
    const tagColour = voltsColour(dot.volts, systemV);
    return [[point, { tag: dot.volts.toFixed(2), tagColour, tells: dot.tone === 'bad' }]];
  });
  return Object.fromEntries(marks);
}

/** A state: the key's position and what is switched, or on a machine without a key that alone. */
export function stateInWords(state: string, hasKey: boolean): string {
  const words = state.split(' · ');
  return (hasKey ? words : words.slice(1)).join(' · ') || 'at rest';
}

/** The places from one on along a path, to ground. */
export function fromHere(path: Path | undefined, place: string, known: Set<string>): string[] {
  const along = placesAlong(path, known);
  const at = along.indexOf(place);
  return at < 0 ? [] : along.slice(at);
}
