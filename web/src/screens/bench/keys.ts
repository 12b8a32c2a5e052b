// The bench's keys. A letter does nothing while one types.
import { useEffect } from 'react';

export const KEYS: [string, string][] = [
  ['R', 'red lead: type a test point, or ← → along the path, Enter'],
  ['B', 'black lead, likewise'],
  ['M', 'meter: next function'],
  ['E', 'write what a healthy circuit should read'],
  ['Enter', 'take the reading, from the expectation'],
  ['1 – 5', 'verdict on the chosen reading, or 1 – 3 on the screen'],
  ['↑ ↓', 'choose an earlier reading'],
  ['K', 'key: next position (Shift: back)'],
  ['L', 'next lever, such as the clutch'],
  ['T', 'try the complaint'],
  ['P', 'next current path in the staircase'],
  ['S', 'oscilloscope, or back to the path'],
  ['X', 'connector faces: put a lead into a cavity'],
  ['U', 'at the machine: unplug, join, look, move, warm, fit'],
  ['C', 'clear or suspect places'],
  ['O', 'note on the chosen reading, in your own words'],
  ['N', 'name the fault'],
  ['F', 'fix: repair a place'],
  ['H', 'hand in'],
  ['I', 'a hint, in practice'],
  ['?', 'this list'],
];

export function useKeys(handlers: Record<string, (e: KeyboardEvent) => void>, enabled: boolean) {
  useEffect(() => {
    if (!enabled) return;
    const listen = (e: KeyboardEvent) => {
      const target = e.target as HTMLElement;
      const typing = target.matches('input:not([type=radio]):not([type=checkbox]), textarea, select');
      if (typing || e.ctrlKey || e.metaKey || e.altKey) return;
      const handler = handlers[e.key.length === 1 ? e.key.toLowerCase() : e.key];
      if (handler) {
        e.preventDefault();
        handler(e);
      }
    };
    window.addEventListener('keydown', listen);
    return () => window.removeEventListener('keydown', listen);
  }, [handlers, enabled]);
}
