import theme from "antd/es/theme";
import ConfigProvider, { type ThemeConfig } from "antd/es/config-provider";
import {
  createContext,
  type ReactNode,
  useCallback,
  useContext,
  useEffect,
  useMemo,
  useState,
  useSyncExternalStore,
} from "react";

const FACE = '"Sofia Sans Semi Condensed Variable", "DejaVu Sans Condensed", system-ui, sans-serif';

// For fingers nothing is smaller than 44 px.
const TOUCHED = { controlHeight: 44, controlHeightSM: 44 };

const shared = {
  fontFamily: FACE,
  fontSize: 15,
  borderRadius: 2,
  wireframe: false,
  motionDurationMid: "0.12s",
  motionDurationSlow: "0.16s",
};

/** Ant Design in our colours. The same values stand in tokens.css for the drawing. */
function antTheme(dark: boolean, touched: boolean): ThemeConfig {
  return {
    algorithm: dark ? theme.darkAlgorithm : theme.defaultAlgorithm,
    // There is one version of the library on the page: its styles need no mark of their own.
    hashed: false,
    token: dark
      ? {
          ...shared,
          ...(touched ? TOUCHED : {}),
          colorPrimary: "#8fb9d6",
          colorLink: "#8fb9d6",
          colorError: "#ff9db9",
          colorTextLightSolid: "#0e1317",
          colorBgBase: "#12181d",
          colorTextBase: "#e6ecef",
          colorTextPlaceholder: "#9dabb5",
          colorBorder: "#52626f",
        }
      : {
          ...shared,
          ...(touched ? TOUCHED : {}),
          colorPrimary: "#2b4a60",
          colorLink: "#2b4a60",
          colorError: "#a80f43",
          colorBgBase: "#fbfcfc",
          colorTextBase: "#17212b",
          colorTextPlaceholder: "#5a6975",
          colorBorder: "#93a1ac",
        },
    components: {
      Select: { optionSelectedFontWeight: 650 },
      Segmented: { trackPadding: 2 },
    },
  };
}

interface Theme {
  dark: boolean;
  toggle: () => void;
}

type Choice = "system" | "light" | "dark";
const KEY = "tropeion-theme";
const dusk = window.matchMedia("(prefers-color-scheme: dark)");
// The same question as in page.css.
const fingers = window.matchMedia("(max-width: 899px), (pointer: coarse)");
const nonce = document.querySelector<HTMLScriptElement>("script[nonce]")?.nonce ?? "";
const ThemeContext = createContext<Theme>({ dark: false, toggle: () => undefined });

/** Whether a media query holds now, and from now on. */
function useMedia(query: MediaQueryList): boolean {
  const listen = useCallback(
    (changed: () => void) => {
      query.addEventListener("change", changed);
      return () => query.removeEventListener("change", changed);
    },
    [query],
  );
  return useSyncExternalStore(listen, () => query.matches);
}

function stored(): Choice {
  const value = window.localStorage.getItem(KEY);
  return value === "light" || value === "dark" ? value : "system";
}

/** Light or dark: the system's, unless chosen here. */
export function ThemeProvider({ children }: { children: ReactNode }) {
  const [choice, setChoice] = useState<Choice>(stored);
  const systemDark = useMedia(dusk);
  const touched = useMedia(fingers);
  const dark = choice === "system" ? systemDark : choice === "dark";
  useEffect(() => {
    document.documentElement.dataset.theme = dark ? "dark" : "light";
  }, [dark]);
  const toggle = useCallback(() => {
    const next: Choice = dark ? "light" : "dark";
    window.localStorage.setItem(KEY, next);
    setChoice(next);
  }, [dark]);
  const value = useMemo(() => ({ dark, toggle }), [dark, toggle]);
  const ant = useMemo(() => antTheme(dark, touched), [dark, touched]);
  return (
    <ThemeContext value={value}>
      <ConfigProvider theme={ant} csp={{ nonce }} button={{ autoInsertSpace: false }}>
        {children}
      </ConfigProvider>
    </ThemeContext>
  );
}

export const useTheme = () => useContext(ThemeContext);
