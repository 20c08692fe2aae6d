import IconContext from "@ant-design/icons/es/components/Context";
import { ConfigContext } from "antd/es/config-provider/context";
import { createContext, type ReactNode, useCallback, useContext, useLayoutEffect, useMemo, useState } from "react";

import { useMedia } from "./media";

interface Theme {
  dark: boolean;
  toggle: () => void;
}

type Choice = "system" | "light" | "dark";
const KEY = "tropeion-theme";
const dusk = window.matchMedia("(prefers-color-scheme: dark)");
// Ant Design's styles stand in a file of their own, made when the application is built.
const icons = { zeroRuntime: true };
const ThemeContext = createContext<Theme>({ dark: false, toggle: () => undefined });

function stored(): Choice {
  const value = window.localStorage.getItem(KEY);
  return value === "light" || value === "dark" ? value : "system";
}

/** Light or dark: the system's, unless chosen here. */
export function ThemeProvider({ children }: { children: ReactNode }) {
  const [choice, setChoice] = useState<Choice>(stored);
  const systemDark = useMedia(dusk);
  const dark = choice === "system" ? systemDark : choice === "dark";
  // Before anything is painted.
  useLayoutEffect(() => {
    document.documentElement.dataset.theme = dark ? "dark" : "light";
  }, [dark]);
  const toggle = useCallback(() => {
    const next: Choice = dark ? "light" : "dark";
    window.localStorage.setItem(KEY, next);
    setChoice(next);
  }, [dark]);
  const value = useMemo(() => ({ dark, toggle }), [dark, toggle]);
  const defaults = useContext(ConfigContext);
  const ant = useMemo(() => ({ ...defaults, button: { autoInsertSpace: false } }), [defaults]);
  return (
    <ThemeContext value={value}>
      <IconContext value={icons}>
        <ConfigContext value={ant}>{children}</ConfigContext>
      </IconContext>
    </ThemeContext>
  );
}

export const useTheme = () => useContext(ThemeContext);
