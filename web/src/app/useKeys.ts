import { useEffect, useEffectEvent } from "react";

import type { Keys } from "./screen";

const typing = (target: EventTarget | null) =>
  target instanceof HTMLElement &&
  (target.isContentEditable ||
    ["INPUT", "TEXTAREA", "SELECT"].includes(target.tagName) ||
    target.closest("[role=combobox],[role=listbox],[role=radiogroup],[role=dialog] [role=menu]") !== null);

/** Single keys for the whole screen; silent while something is typed or a list has the focus. */
export function useKeys(keysNow: () => Keys): void {
  const pressed = useEffectEvent((event: KeyboardEvent) => {
    if (event.defaultPrevented || event.ctrlKey || event.metaKey || event.altKey) return;
    if (event.key !== "Escape" && typing(event.target)) return;
    const action = keysNow()[event.key];
    if (!action) return;
    event.preventDefault();
    action();
  });
  useEffect(() => {
    const listener = (event: KeyboardEvent) => {
      pressed(event);
    };
    window.addEventListener("keydown", listener);
    return () => {
      window.removeEventListener("keydown", listener);
    };
  }, []);
}
