import { useCallback, useSyncExternalStore } from "react";

/** Whether a media query holds now, and from now on. */
export function useMedia(query: MediaQueryList): boolean {
  const listen = useCallback(
    (changed: () => void) => {
      query.addEventListener("change", changed);
      return () => query.removeEventListener("change", changed);
    },
    [query],
  );
  return useSyncExternalStore(listen, () => query.matches);
}
