import { useEffect } from "react";

const typing = (target: EventTarget | null) =>
  target instanceof HTMLElement &&
  (target.isContentEditable ||
    ["INPUT", "TEXTAREA", "SELECT"].includes(target.tagName) ||
    target.closest("[role=combobox],[role=listbox],[role=radiogroup],[role=dialog] [role=menu]") !== null);

/** Single keys for the whole screen; silent while something is typed or a list has the focus. */
export function useKeys(keys: Record<string, () => void>): void {
  useEffect(() => {
    const pressed = (event: KeyboardEvent) => {
      if (event.defaultPrevented || event.ctrlKey || event.metaKey || event.altKey || (event.key !== "Escape" && typing(event.target))) return;
      const action = keys[event.key];
      if (!action) return;
      event.preventDefault();
      action();
    };
    window.addEventListener("keydown", pressed);
    return () => {
      window.removeEventListener("keydown", pressed);
    };
  }, [keys]);
}
