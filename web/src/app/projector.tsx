// The projector: one switch hides faults, keys, names and marks wherever one is, and shows the rest in large type.
import { Button } from 'antd';
import { useSyncExternalStore, type ReactNode } from 'react';

import './projector.css';

/** Every window of the browser is projected, or none is: the next one opened would show what this one hides. */
const KEPT = 'cimento.projecting';
const listeners = new Set<() => void>();

function subscribe(listener: () => void) {
  listeners.add(listener);
  window.addEventListener('storage', listener);
  return () => {
    listeners.delete(listener);
    window.removeEventListener('storage', listener);
  };
}

const isOn = () => window.localStorage.getItem(KEPT) !== null;

export function project(on: boolean) {
  if (on) window.localStorage.setItem(KEPT, 'yes');
  else window.localStorage.removeItem(KEPT);
  listeners.forEach((listener) => listener());
}

/** Whether the page is being projected. */
export const useProjecting = () => useSyncExternalStore(subscribe, isOn);

/** A few words that are nobody else's business; while projected, what stands `instead`. */
export function Private({ children, instead = '•••' }: { children: ReactNode; instead?: string }) {
  const projecting = useProjecting();
  if (!projecting) return children;
  return <span title="hidden while projected">{instead}</span>;
}

/** A part of a screen that is hidden while it is projected, with the way to see it again. */
export function PrivatePart({ what, children }: { what: string; children: ReactNode }) {
  const projecting = useProjecting();
  if (!projecting) return children;
  return (
    <p className="private-part">
      {what} hidden while this is projected.{' '}
      <Button size="small" onClick={() => project(false)}>
        Project no more
      </Button>
    </p>
  );
}

/** The switch. */
export function ProjectorSwitch() {
  const projecting = useProjecting();
  return (
    <Button
      id="projector"
      size="small"
      type={projecting ? 'primary' : 'text'}
      aria-pressed={projecting}
      title="Hide faults, keys, names and marks, in large type"
      onClick={() => project(!projecting)}
    >
      Projector
    </Button>
  );
}
