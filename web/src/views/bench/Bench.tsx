import "./Bench.css";

import { useIsFetching } from "@tanstack/react-query";
import { lazy, Suspense, useCallback, useEffect, useEffectEvent, useState } from "react";
import { useNavigate, useSearchParams } from "react-router";

import { withPair } from "../../app/navigation";
import { usePractices } from "../../app/Practices";
import { useScreen } from "../../app/screen";
import { useAddress } from "../../app/useAddress";
import { Failed } from "../../parts/Failed";
import { UndoBar } from "../../parts/UndoBar";
import { usePairPickers } from "../../parts/usePairPickers";
import { Views } from "../../parts/Views";
import { HELP } from "./help";
import { useRig } from "./useRig";
import { addressOf, type View, VIEWS, viewIn } from "./viewNames";
import { about } from "../../api/queries";

const Measure = lazy(() => import("./measure/Measure"));
const Seen = lazy(() => import("./seen/Seen"));
const FromPicture = lazy(() => import("./picture/FromPicture"));
const Frames = lazy(() => import("./frames/Frames"));
const Mountless = lazy(() => import("./mountless/Mountless"));
const Threads = lazy(() => import("./Threads"));
const Throw = lazy(() => import("./Throw"));

const SCREENS = {
  measure: Measure,
  seen: Seen,
  picture: FromPicture,
  frames: Frames,
  mountless: Mountless,
  thread: Threads,
  throw: Throw,
} satisfies Record<View, unknown>;

/** The bench: a caliper and a doubt. The piece or the pair is in the address. */
export default function Bench() {
  const [words] = useSearchParams();
  const [address, go] = useAddress();
  const navigate = useNavigate();
  const { usual } = usePractices();
  const view = viewIn(words);
  const mounted = words.get("mounted") === "1";
  const rig = useRig(address, mounted);
  const pick = useCallback((kind: "lens" | "body", id: string | null) => go({ [kind]: id, via: null }), [go]);
  const pickers = usePairPickers(address.lens, address.body, rig.names, pick);
  const failure = pickers.error ?? rig.error;
  const [drawn, setDrawn] = useState<View | null>(null);
  const asking = useIsFetching({ predicate: about("bench") });
  const settled = !failure && drawn === view && asking === 0 && rig.settled;
  const shown = VIEWS.find((one) => one.view === view)?.name ?? "";
  useScreen({
    title: [`Bench: ${shown}`, pickers.lens && pickers.body && `${pickers.lens.name} on ${pickers.body.name}`]
      .filter(Boolean)
      .join(", "),
    answer: settled ? `bench ${view}` : undefined,
    busy: !settled && !failure,
    className: "bench",
    help: HELP,
    keys: {
      ...Object.fromEntries(VIEWS.map((one) => [one.key, () => void navigate(addressOf(words, one.view))])),
      ...pickers.keys,
      e: () => document.querySelector<HTMLElement>("[data-field=reading]")?.focus(),
      g: () => void navigate(withPair("/", words.toString(), Object.keys(usual))),
    },
    pair: pickers.pair,
  });
  const Screen = SCREENS[view];
  return (
    <>
      <Views label="Of the bench" views={VIEWS} current={view} addressOf={(one) => addressOf(words, one)} />
      {failure ? (
        <Failed error={failure} onRetry={rig.again} />
      ) : (
        <Suspense fallback={<div className="sheet skeleton" />}>
          {mounted && rig.danger !== null && (
            <p className="warning bench-danger" role="alert">
              {`${rig.danger} It is on the camera already: do not turn it any further. A repairer takes it off if it will not come.`}
            </p>
          )}
          <Screen rig={rig} />
          <Drawn key={view} onDrawn={() => setDrawn(view)} />
        </Suspense>
      )}
      <UndoBar />
    </>
  );
}

/** Tells once a view is there: it comes in a file of its own. */
function Drawn({ onDrawn }: { onDrawn: () => void }) {
  const told = useEffectEvent(onDrawn);
  useEffect(() => told(), []);
  return null;
}
