import { createContext, type ReactNode, useContext, useLayoutEffect, useSyncExternalStore } from "react";

export type Keys = Record<string, () => void>;

export interface Help {
  title: string;
  keys: readonly (readonly [key: string, what: string])[];
  /** How to read the drawing. */
  children?: ReactNode;
}

/** What a screen tells the shell that it stands in. */
export interface Screen {
  title: string;
  /** What the settled answer is the answer to: tests and people's programs wait for it. */
  answer: string | undefined;
  busy?: boolean;
  className?: string;
  /** Single keys; the shell adds its own (dark or light, help, a label). */
  keys?: Keys;
  help?: Help;
  /** The pickers of the pair, and the screen's own tools. */
  pair?: ReactNode;
  tools?: ReactNode;
}

/** The screen that is shown, for the parts of the shell that show something of it. */
export class ScreenStore {
  current: Screen | null = null;
  private readonly listeners = new Set<() => void>();

  show(screen: Screen | null): void {
    this.current = screen;
    this.listeners.forEach((listener) => {
      listener();
    });
  }

  readonly listen = (listener: () => void) => {
    this.listeners.add(listener);
    return () => {
      this.listeners.delete(listener);
    };
  };
}

export const ScreenContext = createContext(new ScreenStore());

/** Tells the shell what is shown: title, settled answer, keys, help, and what stands in the header. */
export function useScreen(screen: Screen): void {
  const store = useContext(ScreenContext);
  useLayoutEffect(() => {
    store.show(screen);
  });
  useLayoutEffect(
    () => () => {
      store.show(null);
    },
    [store],
  );
}

/** One thing that the shown screen tells; drawn anew only when that changes. */
export function useShown<T>(store: ScreenStore, select: (screen: Screen | null) => T): T {
  return useSyncExternalStore(store.listen, () => select(store.current));
}
