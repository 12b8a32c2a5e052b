// A function that stays the same while what it does changes: what is memoised need not be drawn again.
import { useCallback, useLayoutEffect, useRef } from 'react';

export function useStable<A extends unknown[], R>(act: (...args: A) => R): (...args: A) => R {
  const latest = useRef(act);
  useLayoutEffect(() => {
    latest.current = act;
  });
  return useCallback((...args: A) => latest.current(...args), []);
}
