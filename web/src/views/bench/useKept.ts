import { useEffect, useState } from "react";

/** Something that is being written, kept until the page is closed: leaving the screen loses nothing. */
export function useKept<T>(key: string, empty: T): [T, (next: T) => void] {
  const name = `bench ${key}`;
  const read = (): T => {
    try {
      const found = sessionStorage.getItem(name);
      return found === null ? empty : (JSON.parse(found) as T);
    } catch {
      return empty;
    }
  };
  const [held, setHeld] = useState(() => ({ name, value: read() }));
  const value = held.name === name ? held.value : read();
  useEffect(() => {
    try {
      sessionStorage.setItem(name, JSON.stringify(value));
    } catch {
      // A full or forbidden store: what is written stays on the screen.
    }
  }, [name, value]);
  return [value, (next: T) => setHeld({ name, value: next })];
}

/** A number as it is typed, with a point or a comma; null where it is none. */
export function numberIn(text: string): number | null {
  const tidy = text.trim().replace(",", ".").replace("−", "-");
  if (!/^[+-]?(\d+\.?\d*|\.\d+)$/.test(tidy)) return null;
  const value = Number(tidy);
  return Number.isFinite(value) ? value : null;
}
