// What stays the same for a while.
import { useCallback, useEffect, useLayoutEffect, useRef, useState } from 'react';

/** A function that stays the same while what it does changes: what is memoised need not be drawn again. */
export function useStable<A extends unknown[], R>(act: (...args: A) => R): (...args: A) => R {
  const latest = useRef(act);
  useLayoutEffect(() => {
    latest.current = act;
  });
  return useCallback((...args: A) => latest.current(...args), []);
}

/** A value once it has not changed for so many milliseconds. */
export function useStill<T>(value: T, ms: number): T {
  const [still, setStill] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setStill(value), ms);
    return () => clearTimeout(timer);
  }, [value, ms]);
  return still;
}
