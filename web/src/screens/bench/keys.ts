// The bench's keys: one table that binds them and that `?` shows. A letter does nothing while one types.
import { useEffect } from 'react';

/** What the keys can do at the bench. */
export type Doings = {
  focus: (what: 'red' | 'black' | 'expected' | 'machine' | 'places' | 'note') => void;
  nextFunction: () => void;
  turnKey: (by: number) => void;
  nextLever: (nth: number) => void;
  tryComplaint: () => void;
  nextPath: () => void;
  toggleScope: () => void;
  faces: () => void;
  ask: () => void;
  binder: () => void;
  name: () => void;
  repair: () => void;
  giveBack: () => void;
  handIn: () => void;
  hint: () => void;
  answer: () => void;
  help: () => void;
  judge: (nth: number) => void;
  chooseReading: (by: number) => void;
};

type Binding = {
  /** As the event names them. */
  keys: string[];
  /** As the list shows them. */
  shown: string;
  about: string;
  /** Absent for what a field does by itself. */
  run?: (doings: Doings, event: KeyboardEvent) => void;
};

export const BINDINGS: Binding[] = [
  {
    keys: ['r'],
    shown: 'R',
    about: 'red lead: type a test point, or ← → along the path, Enter',
    run: (d) => d.focus('red'),
  },
  { keys: ['b'], shown: 'B', about: 'black lead, likewise', run: (d) => d.focus('black') },
  { keys: ['m'], shown: 'M', about: 'meter: next function', run: (d) => d.nextFunction() },
  { keys: ['e'], shown: 'E', about: 'write what a healthy circuit should read', run: (d) => d.focus('expected') },
  {
    keys: [],
    shown: 'Enter',
    about: 'take the reading, from the expectation or, where none is asked for, after the leads',
  },
  {
    keys: ['1', '2', '3', '4', '5'],
    shown: '1 – 5',
    about: 'verdict on the chosen reading, or 1 – 3 on the screen',
    run: (d, e) => d.judge(Number(e.key) - 1),
  },
  {
    keys: ['ArrowUp', 'ArrowDown'],
    shown: '↑ ↓',
    about: 'choose an earlier reading',
    run: (d, e) => d.chooseReading(e.key === 'ArrowUp' ? -1 : 1),
  },
  { keys: ['k'], shown: 'K', about: 'key: next position (Shift: back)', run: (d, e) => d.turnKey(e.shiftKey ? -1 : 1) },
  {
    keys: ['l'],
    shown: 'L',
    about: 'next position of the lever, such as the clutch (Shift: of the second lever)',
    run: (d, e) => d.nextLever(e.shiftKey ? 1 : 0),
  },
  { keys: ['t'], shown: 'T', about: 'try the complaint', run: (d) => d.tryComplaint() },
  { keys: ['p'], shown: 'P', about: 'next current path in the staircase', run: (d) => d.nextPath() },
  { keys: ['s'], shown: 'S', about: 'oscilloscope, or back to the path', run: (d) => d.toggleScope() },
  { keys: ['x'], shown: 'X', about: 'connector faces: put a lead into a cavity', run: (d) => d.faces() },
  {
    keys: ['u'],
    shown: 'U',
    about: 'at the machine: unplug, join, look, move, warm, fit',
    run: (d) => d.focus('machine'),
  },
  { keys: ['c'], shown: 'C', about: 'rule out or suspect places', run: (d) => d.focus('places') },
  { keys: ['o'], shown: 'O', about: 'note on the chosen reading, in your own words', run: (d) => d.focus('note') },
  { keys: ['q'], shown: 'Q', about: 'question the customer, or look up earlier work', run: (d) => d.ask() },
  { keys: ['d'], shown: 'D', about: 'documents: the binder, where the machine came with one', run: (d) => d.binder() },
  { keys: ['n'], shown: 'N', about: 'name the fault', run: (d) => d.name() },
  { keys: ['f'], shown: 'F', about: 'fix: repair a place', run: (d) => d.repair() },
  { keys: ['g'], shown: 'G', about: 'give the machine back, where it is seen again', run: (d) => d.giveBack() },
  { keys: ['h'], shown: 'H', about: 'hand in', run: (d) => d.handIn() },
  { keys: ['i'], shown: 'I', about: 'a hint, in practice', run: (d) => d.hint() },
  {
    keys: ['a'],
    shown: 'A',
    about: 'of two at a bench: write what you expect of what the other asks',
    run: (d) => d.answer(),
  },
  { keys: ['?'], shown: '?', about: 'this list', run: (d) => d.help() },
];

/** The binding of an event, unless somebody types or another program's keys are held. */
export function bindingOf(event: KeyboardEvent): Binding | undefined {
  const target = event.target as HTMLElement | null;
  const typing = target?.matches?.('input:not([type=radio]):not([type=checkbox]), textarea, select');
  // Arrows go from one choice to the next.
  const choosing = target?.matches?.('input[type=radio]') && event.key.startsWith('Arrow');
  if (typing || choosing || event.ctrlKey || event.metaKey || event.altKey) return undefined;
  const key = event.key.length === 1 ? event.key.toLowerCase() : event.key;
  return BINDINGS.find((b) => b.keys.includes(key));
}

export function useKeys(doings: Doings, enabled: boolean) {
  useEffect(() => {
    if (!enabled) return;
    const listen = (event: KeyboardEvent) => {
      const binding = bindingOf(event);
      if (!binding?.run) return;
      event.preventDefault();
      binding.run(doings, event);
    };
    window.addEventListener('keydown', listen);
    return () => window.removeEventListener('keydown', listen);
  }, [doings, enabled]);
}

/** The one after, round the end; nothing where there is nothing to go round. */
export function around<T>(all: readonly T[], at: number, by: number): T | undefined {
  return all.length === 0 ? undefined : all[(at + by + all.length) % all.length];
}
