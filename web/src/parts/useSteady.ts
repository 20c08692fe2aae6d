import { useCallback, useLayoutEffect, useRef } from "react";

/** The same function at every rendering; called, it does what the latest one does. */
export function useSteady<A extends unknown[]>(latest: (...args: A) => void): (...args: A) => void {
  const held = useRef(latest);
  useLayoutEffect(() => {
    held.current = latest;
  });
  return useCallback((...args: A) => held.current(...args), []);
}
