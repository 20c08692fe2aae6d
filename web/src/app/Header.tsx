import "./Header.css";

import Button from "antd/es/button";
import { Fragment, memo, useEffect, useState } from "react";
import { Link, useLocation } from "react-router";

import { CARRIES } from "../pocket/away";
import { useAnswering } from "../pocket/hooks";
import { print } from "../parts/Printed";
import { Views } from "../parts/Views";
import { BOX, type Destination, GROUPS, isOfPair, MORE, screenAt, underAt, withPair } from "./navigation";
import { usePractices } from "./Practices";
import { type ScreenStore, useShown } from "./screen";
import { useTheme } from "./theme";
import { Panel } from "../parts/Panel";

interface Props {
  store: ScreenStore;
  onHelp: () => void;
}

/** Wordmark, the switch between screens, the pair that is looked at, and the tools. */
export const Header = memo(function Header({ store, onHelp }: Props) {
  const pair = useShown(store, (screen) => screen?.pair);
  const tools = useShown(store, (screen) => screen?.tools);
  // Where nobody computes, it is looked up.
  const away = useAnswering().away && CARRIES;
  const helped = useShown(store, (screen) => screen?.help !== undefined);
  return (
    <header className="top">
      <Link className="wordmark" to="/">
        Tropeion
      </Link>
      <Screens />
      {pair}
      <nav className="tools" aria-label="Tools">
        <Link
          className="would-fit"
          to={away ? "/pocket" : BOX.path}
          title="A lens, a label or a listing, as it is read"
        >
          {BOX.name}
        </Link>
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
  const place = here?.path ?? "";
  useEffect(() => {
    last[place] = pathname + search;
  }, [place, pathname, search]);
  const close = () => setOpen(false);
  const addressOf = ({ path }: Destination) => {
    if (path === place) return pathname === path ? pathname + search : path;
    return isOfPair(place) && isOfPair(path) ? withPair(path, search, practiceKeys) : (last[path] ?? path);
  };
  const link = (screen: Destination, to: string, current: boolean) => (
    <Link key={screen.path} to={to} aria-current={current ? "page" : undefined} onClick={close}>
      {screen.name}
    </Link>
  );
  return (
    <>
      <nav className="screens" aria-label="Screens">
        {GROUPS.map(({ name, screens }) => (
          <span key={name} className="screen-group" role="group" aria-label={name}>
            {screens.map((screen) => link(screen, addressOf(screen), screen === here))}
          </span>
        ))}
      </nav>
      <Button className="screens-button" aria-expanded={open} onClick={() => setOpen(true)}>
        <span className="screens-more">More</span>
        <span className="screens-all">Screens</span>
      </Button>
      <Panel
        title="Screens"
        placement="top"
        size={window.innerWidth < 900 ? 640 : 350}
        open={open}
        onClose={close}
        mask={false}
        destroyOnHidden
        className="panel"
      >
        <nav className="screens-list" aria-label="All screens">
          {GROUPS.map(({ name, screens }) => (
            <span key={name} className="screen-group" role="group" aria-label={name}>
              {screens.map((screen) => (
                <Fragment key={screen.path}>
                  {link(screen, addressOf(screen), screen === here)}
                  {(screen.under ?? [])
                    .filter(({ path }) => path !== screen.path)
                    .map((one) => (
                      <Link
                        key={one.path}
                        className="screen-under"
                        to={one.path}
                        aria-current={underAt(screen, pathname) === one ? "page" : undefined}
                        onClick={close}
                      >
                        {one.name}
                      </Link>
                    ))}
                </Fragment>
              ))}
            </span>
          ))}
          <span className="screen-group" role="group" aria-label="More">
            {MORE.map((screen) => link(screen, screen.path, screen === here))}
          </span>
        </nav>
        <ThemeButton />
      </Panel>
    </>
  );
}

/** The screens under the one that is looked at. */
export function UnderScreens() {
  const { pathname } = useLocation();
  const here = screenAt(pathname);
  const under = here?.under ?? [];
  const current = here && underAt(here, pathname);
  if (!here || under.length === 0 || current?.ownTabs) return null;
  return (
    <Views
      label={`Of ${here.name}`}
      views={under.map(({ path, name }) => ({ view: path, name }))}
      current={current?.path ?? ""}
      addressOf={(path) => path}
    />
  );
}
