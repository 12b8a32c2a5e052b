// One notion of a chosen place: whatever is chosen or pointed at anywhere on a page lights up everywhere on it.
import { createContext, useContext, useMemo, useState, useSyncExternalStore, type ReactNode } from 'react';

import type { Drawing } from '../api/client';
import './chosen.css';

type State = { chosen: string | null; hovered: string | null };

class Store {
  private state: State = { chosen: null, hovered: null };
  private readonly listeners = new Set<() => void>();
  /** The place that a test point belongs to. */
  places = new Map<string, string>();

  readonly subscribe = (listener: () => void) => {
    this.listeners.add(listener);
    return () => void this.listeners.delete(listener);
  };
  readonly get = () => this.state;

  private set(next: State) {
    if (next.chosen === this.state.chosen && next.hovered === this.state.hovered) return;
    this.state = next;
    this.listeners.forEach((tell) => tell());
  }
  readonly choose = (id: string | null) => this.set({ ...this.state, chosen: id });
  readonly hover = (id: string | null) => this.set({ ...this.state, hovered: id });

  /** Whether an id, or the place that it belongs to, is chosen or pointed at. */
  readonly lights = (id: string) => {
    const { chosen, hovered } = this.state;
    return [chosen, hovered].some((lit) => lit !== null && (lit === id || this.places.get(lit) === id));
  };
}

const Chosen = createContext(new Store());

/** What is inside shares what is chosen. */
export function ChosenPlace({ drawing, children }: { drawing?: Drawing; children: ReactNode }) {
  const [store] = useState(() => new Store());
  const places = useMemo(() => (drawing ? placesOf(drawing) : new Map<string, string>()), [drawing]);
  store.places = places;
  return <Chosen.Provider value={store}>{children}</Chosen.Provider>;
}

function placesOf(drawing: Drawing): Map<string, string> {
  return new Map([
    ...drawing.parts.flatMap((p) => p.terminals.map((t): [string, string] => [t.point, p.id])),
    ...drawing.cavities.flatMap((c): [string, string][] => [
      [c.male, c.id],
      [c.female, c.id],
    ]),
  ]);
}

/** What is chosen and what is pointed at. */
export function useChosen(): State {
  const store = useContext(Chosen);
  return useSyncExternalStore(store.subscribe, store.get);
}

/** Chooses, and points at, a place or a test point. */
export function useChoose(): { choose: (id: string | null) => void; hover: (id: string | null) => void } {
  return useContext(Chosen);
}

/** Whether something lights up. */
export function useIsLit(id: string): boolean {
  const store = useContext(Chosen);
  return useSyncExternalStore(store.subscribe, () => store.lights(id));
}

/** What makes an element that names a place light it up. */
export function useLighting(id: string) {
  const { hover } = useChoose();
  return { onPointerEnter: () => hover(id), onPointerLeave: () => hover(null) };
}

/** The name of a place or a test point in a text: it lights up with it, and chooses it. */
export function Named({ id, children }: { id: string; children?: ReactNode }) {
  const lit = useIsLit(id);
  const { choose } = useChoose();
  return (
    <button
      type="button"
      tabIndex={-1}
      className={lit ? 'named lit' : 'named'}
      {...useLighting(id)}
      onClick={() => choose(id)}
    >
      {children ?? id}
    </button>
  );
}
