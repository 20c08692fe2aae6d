import { useCallback, useLayoutEffect, useRef } from "react";
import { useSearchParams } from "react-router";

/** Null and "" take a word out of the address. */
export type Words = Record<string, string | null>;

/** The address's query, and a way to change it that stays the same function from one address to the next. */
export function useChange(): [URLSearchParams, (next: Words, replace?: boolean) => void] {
  const [address, setAddress] = useSearchParams();
  const latest = useRef(setAddress);
  useLayoutEffect(() => {
    latest.current = setAddress;
  }, [setAddress]);
  const change = useCallback((next: Words, replace = true) => {
    latest.current(
      (before) => {
        const after = new URLSearchParams(before);
        for (const [key, value] of Object.entries(next)) {
          if (value === null || value === "") after.delete(key);
          else after.set(key, value);
        }
        return after;
      },
      { replace },
    );
  }, []);
  return [address, change];
}
