import { useEffect, useState } from "react";

export type ThemeChoice = "system" | "light" | "dark";
const KEY = "tropeion-theme";
const dusk = window.matchMedia("(prefers-color-scheme: dark)");

function stored(): ThemeChoice {
  const value = window.localStorage.getItem(KEY);
  return value === "light" || value === "dark" ? value : "system";
}

/** Light or dark: the system's, unless chosen here. */
export function useTheme(): { dark: boolean; toggle: () => void } {
  const [choice, setChoice] = useState<ThemeChoice>(stored);
  const [systemDark, setSystemDark] = useState(dusk.matches);
  useEffect(() => {
    const changed = () => {
      setSystemDark(dusk.matches);
    };
    dusk.addEventListener("change", changed);
    return () => {
      dusk.removeEventListener("change", changed);
    };
  }, []);
  const dark = choice === "system" ? systemDark : choice === "dark";
  useEffect(() => {
    document.documentElement.dataset.theme = dark ? "dark" : "light";
  }, [dark]);
  const toggle = () => {
    const next: ThemeChoice = dark ? "light" : "dark";
    window.localStorage.setItem(KEY, next);
    setChoice(next);
  };
  return { dark, toggle };
}
