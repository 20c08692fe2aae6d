import "./Header.css";

import Button from "antd/es/button";
import Drawer from "antd/es/drawer";
import { memo, useEffect, useState } from "react";
import { Link, useLocation } from "react-router";

import { print } from "../parts/Printed";
import { GROUPS, isOfPair, screenAt, SHOP, withPair } from "./navigation";
import { usePractices } from "./Practices";
import { type ScreenStore, useShown } from "./screen";
import { useTheme } from "./theme";

interface Props {
  store: ScreenStore;
  onHelp: () => void;
  onLabel: () => void;
}

/** Wordmark, the switch between screens, the pair that is looked at, and the tools. */
export const Header = memo(function Header({ store, onHelp, onLabel }: Props) {
  const pair = useShown(store, (screen) => screen?.pair);
  const tools = useShown(store, (screen) => screen?.tools);
  const helped = useShown(store, (screen) => screen?.help !== undefined);
  return (
    <header className="top">
      <Link className="wordmark" to="/">
        Tropeion
      </Link>
      <Screens />
      {pair}
      <nav className="tools" aria-label="Tools">
        <Link className="tool-link would-fit" to={SHOP.path}>
          {SHOP.name}
        </Link>
        <Button type="text" onClick={onLabel}>
          Label
        </Button>
        {tools}
        <Button type="text" onClick={() => print()}>
          Print
        </Button>
        <ThemeButton />
        {helped && (
          <Button type="text" onClick={onHelp} aria-label="Help and keys">
            ?
          </Button>
        )}
      </nav>
    </header>
  );
});

function ThemeButton() {
  const { dark, toggle } = useTheme();
  return (
    <Button className="theme-button" type="text" onClick={toggle}>
      {dark ? "Light" : "Dark"}
    </Button>
  );
}

// The last question on each screen, so that switching back finds it again.
const last: Record<string, string> = {};

/** The quiet switch between the screens; on a phone a button that opens their list. */
function Screens() {
  const { pathname, search } = useLocation();
  const [open, setOpen] = useState(false);
  const here = screenAt(pathname);
  const practiceKeys = usePractices().choices.map(({ key }) => key);
  useEffect(() => {
    last[here] = (here === "/" ? "/" : pathname) + search;
  }, [here, pathname, search]);
  const close = () => setOpen(false);
  const groups = GROUPS.map(({ name, screens }) => (
    <span key={name} className="screen-group" role="group" aria-label={name}>
      {screens
        .flatMap((screen) => [screen, ...(screen.under ?? []).map((one) => ({ ...one, below: true }))])
        .map((screen) => (
          <Link
            key={screen.path}
            className={"below" in screen || screen.rarer ? "a-tap-away" : undefined}
            to={
              screen.path === here
                ? pathname + search
                : isOfPair(here) && isOfPair(screen.path)
                  ? withPair(screen.path, search, practiceKeys)
                  : (last[screen.path] ?? screen.path)
            }
            aria-current={screen.path === here ? "page" : undefined}
            onClick={close}
          >
            {screen.name}
          </Link>
        ))}
    </span>
  ));
  return (
    <>
      <nav className="screens" aria-label="Screens">
        {groups}
      </nav>
      <Button className="screens-button" aria-expanded={open} onClick={() => setOpen(true)}>
        <span className="screens-more">More</span>
        <span className="screens-all">Screens</span>
      </Button>
      <Drawer
        title="Screens"
        placement="top"
        size={window.innerWidth < 900 ? 560 : 350}
        open={open}
        onClose={close}
        mask={false}
        destroyOnHidden
        className="panel"
      >
        <nav className="screens-list" aria-label="Screens">
          {groups}
        </nav>
        <ThemeButton />
      </Drawer>
    </>
  );
}
