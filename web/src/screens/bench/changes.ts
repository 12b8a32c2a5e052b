// What a step changed, put into what the page knows of the bench already.
import type { BenchView } from '../../api/client';

/** Screens of the oscilloscope that a view holds. */
const CAPTURES = 4;

/** Lines by their step: changed ones in their place, new ones at the end. */
function merged<T extends { step: number }>(old: T[], changed: T[]): T[] {
  const kept = old.map((line) => changed.find((c) => c.step === line.step) ?? line);
  const known = new Set(old.map((line) => line.step));
  return [...kept, ...changed.filter((c) => !known.has(c.step))];
}

/** A bench after some changes, of whose growing lists only what is new or changed is given. */
export function changed(old: BenchView, changes: BenchView): BenchView {
  return {
    ...changes,
    ledger: merged(old.ledger, changes.ledger),
    captures: merged(old.captures, changes.captures).slice(-CAPTURES),
    tried: changes.tried ?? old.tried,
    repairs: [...old.repairs, ...changes.repairs],
    hints: [...old.hints, ...changes.hints],
    notes: [...old.notes, ...changes.notes],
    seen: [...old.seen, ...changes.seen],
    opened: [...(old.opened ?? []), ...(changes.opened ?? [])],
    doubted: [...(old.doubted ?? []), ...(changes.doubted ?? [])],
    told: [...(old.told ?? []), ...(changes.told ?? [])],
  };
}
