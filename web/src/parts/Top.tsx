import Button from "antd/es/button";
import { memo, type ReactNode, useCallback, useEffect, useState } from "react";
import { Link, useLocation } from "react-router";

import { useKeys } from "../app/useKeys";
import { LabelPanel } from "./LabelPanel";

interface Props {
  dark: boolean;
  onToggleTheme: () => void;
  onHelp?: () => void;
  /** The pickers of a screen, and its own tools. */
  children?: ReactNode;
  tools?: ReactNode;
}

// The last question on each screen, so that switching back finds it again.
const last: Record<string, string> = {};
const SCREENS = [
  { path: "/", name: "Light path" },
  { path: "/mounts", name: "Mounts" },
  { path: "/kit", name: "Kit" },
] as const;

/** The quiet switch between the screens. */
const Screens = memo(function Screens() {
  const { pathname, search } = useLocation();
  const here = pathname.startsWith("/mounts") ? "/mounts" : ["/kit", "/files"].some((path) => pathname.startsWith(path)) ? "/kit" : pathname === "/fit" ? "/fit" : "/";
  useEffect(() => {
    last[here] = (here === "/" ? "/" : pathname) + search;
  }, [here, pathname, search]);
  return (
    <nav className="screens" aria-label="Screens">
      {SCREENS.map(({ path, name }) => (
        <Link key={path} to={path === here ? pathname + search : (last[path] ?? path)} aria-current={path === here ? "page" : undefined}>
          {name}
        </Link>
      ))}
    </nav>
  );
});

/** Wordmark, the switch between screens, and what a screen puts there. */
export function Top({ dark, onToggleTheme, onHelp, children, tools }: Props) {
  const [labelling, setLabelling] = useState(false);
  const closeLabel = useCallback(() => {
    setLabelling(false);
  }, []);
  useKeys({
    "/": () => { setLabelling(true); },
  });
  return (
    <header className="top">
      <Link className="wordmark" to="/">
        Tropeion
      </Link>
      <Screens />
      {children}
      <nav className="tools" aria-label="Tools">
        <Link className="tool-link would-fit" to="/fit">
          Would it fit?
        </Link>
        <Button type="text" onClick={() => { setLabelling(true); }}>
          Label
        </Button>
        {tools}
        <Button type="text" onClick={onToggleTheme}>
          {dark ? "Light" : "Dark"}
        </Button>
        {onHelp && (
          <Button type="text" onClick={onHelp} aria-label="Help and keys">
            ?
          </Button>
        )}
      </nav>
      <LabelPanel open={labelling} onClose={closeLabel} />
    </header>
  );
}
