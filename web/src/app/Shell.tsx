import { Suspense, useCallback, useMemo, useState } from "react";
import { Outlet, useLocation } from "react-router";

import { KeysPanel } from "../parts/KeysPanel";
import { LabelPanel } from "../parts/LabelPanel";
import { Header } from "./Header";
import { type Keys, ScreenContext, ScreenStore, useShown } from "./screen";
import { useTheme } from "./theme";
import { useKeys } from "./useKeys";

type Panel = "help" | "label" | null;

/** What every screen stands in: the header, the keys that work everywhere, help, and a label that is read. */
export function Shell() {
  const [store] = useState(() => new ScreenStore());
  const [panel, setPanel] = useState<Panel>(null);
  const { toggle } = useTheme();
  const close = useCallback(() => setPanel(null), []);
  const label = useCallback(() => setPanel("label"), []);
  const help = useCallback(() => setPanel("help"), []);
  useKeys((): Keys => {
    const { keys = {}, help: told } = store.current ?? {};
    const own: Keys = { d: toggle, "/": label, ...(told ? { "?": help } : {}) };
    return { ...own, ...keys, ...(panel === null ? {} : { Escape: close }) };
  });
  return (
    <ScreenContext value={store}>
      <Title store={store} />
      <Header store={store} onHelp={help} onLabel={label} />
      <Main store={store}>
        <KeptNote />
        <Suspense fallback={null}>
          <Outlet />
        </Suspense>
      </Main>
      <HelpOf store={store} open={panel === "help"} onClose={close} />
      <LabelPanel open={panel === "label"} onClose={close} />
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

function Title({ store }: { store: ScreenStore }) {
  const title = useShown(store, (screen) => screen?.title ?? "");
  return <title>{title ? `${title} · Tropeion` : "Tropeion"}</title>;
}

function Main({ store, children }: { store: ScreenStore; children: React.ReactNode }) {
  const className = useShown(store, (screen) => screen?.className ?? "");
  const answer = useShown(store, (screen) => screen?.answer);
  const busy = useShown(store, (screen) => screen?.busy ?? screen === null);
  return (
    <main className={`page ${className}`.trim()} aria-busy={busy} data-answer-for={answer}>
      {children}
    </main>
  );
}

function HelpOf({ store, open, onClose }: { store: ScreenStore; open: boolean; onClose: () => void }) {
  const help = useShown(store, (screen) => screen?.help);
  return useMemo(
    () =>
      help ? (
        <KeysPanel title={help.title} keys={help.keys} open={open} onClose={onClose}>
          {help.children}
        </KeysPanel>
      ) : null,
    [help, open, onClose],
  );
}
