import { lazy, Suspense, useCallback, useEffect, useMemo, useState } from "react";
import { Outlet, useLocation, useNavigate } from "react-router";

import { today } from "../parts/format";
import { Opened } from "../parts/Opened";
import { Away } from "./Away";
import { Header, UnderScreens } from "./Header";
import { rememberPair } from "./lastPair";
import { BOX, isOfPair, screenAt } from "./navigation";
import { type Keys, ScreenContext, ScreenStore, useShown } from "./screen";
import { Stands } from "./Stands";
import { useTheme } from "./theme";
import { useKeys } from "./useKeys";

const KeysPanel = lazy(async () => ({ default: (await import("../parts/KeysPanel")).KeysPanel }));

/** What every screen stands in: the header, the keys that work everywhere, and help. */
export function Shell() {
  const [store] = useState(() => new ScreenStore());
  const [helping, setHelping] = useState(false);
  const navigate = useNavigate();
  const { pathname } = useLocation();
  const { toggle } = useTheme();
  const close = useCallback(() => setHelping(false), []);
  const help = useCallback(() => setHelping(true), []);
  useKeys((): Keys => {
    const { keys = {}, help: told } = store.current ?? {};
    const own: Keys = { d: toggle, "/": () => void navigate(BOX.path), ...(told ? { "?": help } : {}) };
    return { ...own, ...keys, ...(helping ? { Escape: close } : {}) };
  });
  return (
    <ScreenContext value={store}>
      <Title store={store} />
      <a className="skip" href="#main">
        Skip to the page
      </a>
      <Header store={store} onHelp={help} />
      <Main store={store}>
        <PaperHead store={store} />
        <UnderScreens />
        <KeptNote />
        <Away />
        <Stands at={pathname}>
          <Suspense fallback={<div className="skeleton" aria-busy="true" />}>
            <Outlet />
          </Suspense>
        </Stands>
      </Main>
      <HelpOf store={store} open={helping} onClose={close} />
    </ScreenContext>
  );
}

/** Whoever went away to add something is told, once back, that it is there. */
function KeptNote() {
  const state: unknown = useLocation().state;
  const kept = typeof state === "object" && state !== null && "kept" in state ? state.kept : null;
  if (typeof kept !== "string") return null;
  return <p className="kept-note" role="status">{`${kept} is in your kit now.`}</p>;
}

/** What a printed page is of, and of which day. */
function PaperHead({ store }: { store: ScreenStore }) {
  const title = useShown(store, (screen) => screen?.title ?? "");
  return <p className="paper-head">{[title || "Tropeion", today()].join(", ")}</p>;
}

function Title({ store }: { store: ScreenStore }) {
  const title = useShown(store, (screen) => screen?.title ?? "");
  return <title>{title ? `${title} · Tropeion` : "Tropeion"}</title>;
}

function Main({ store, children }: { store: ScreenStore; children: React.ReactNode }) {
  const className = useShown(store, (screen) => screen?.className ?? "");
  const answer = useShown(store, (screen) => screen?.answer);
  const busy = useShown(store, (screen) => screen?.busy ?? screen === null);
  const { pathname, search } = useLocation();
  useEffect(() => {
    if (answer !== undefined && isOfPair(screenAt(pathname)?.path ?? "")) rememberPair(search);
  }, [answer, pathname, search]);
  return (
    <main id="main" tabIndex={-1} className={`page ${className}`.trim()} aria-busy={busy} data-answer-for={answer}>
      {children}
    </main>
  );
}

function HelpOf({ store, open, onClose }: { store: ScreenStore; open: boolean; onClose: () => void }) {
  const help = useShown(store, (screen) => screen?.help);
  return useMemo(
    () =>
      help ? (
        <Opened when={open}>
          <KeysPanel title={help.title} keys={help.keys} open={open} onClose={onClose}>
            {help.children}
          </KeysPanel>
        </Opened>
      ) : null,
    [help, open, onClose],
  );
}
