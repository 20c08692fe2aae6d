import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { lazy, useEffect } from "react";
import { BrowserRouter, Link, Route, Routes } from "react-router";

import { OfPair } from "./OfPair";
import { PracticesProvider } from "./Practices";
import { useScreen } from "./screen";
import { AwayError, ProblemError } from "../api/client";
import { CARRIES } from "../pocket/away";
import { fetchPanel } from "../parts/Panel";
import { Shell } from "./Shell";
import { ThemeProvider } from "./theme";

/** The screens that are gone to most: their scripts are fetched as soon as the first one stands. */
const OFTEN = {
  LightPath: () => import("../views/light-path/LightPath"),
  Frame: () => import("../views/frame/Frame"),
  SetUp: () => import("../views/setup/SetUp"),
  Bench: () => import("../views/bench/Bench"),
  Log: () => import("../views/log/Log"),
  Kit: () => import("../views/kit/Kit"),
  WholeKit: () => import("../views/grid/WholeKit"),
};
const LightPath = lazy(OFTEN.LightPath);
const Frame = lazy(OFTEN.Frame);
const SetUp = lazy(OFTEN.SetUp);
const Bench = lazy(OFTEN.Bench);
const Log = lazy(OFTEN.Log);
const Kit = lazy(OFTEN.Kit);
const WholeKit = lazy(OFTEN.WholeKit);
const Devices = lazy(() => import("../views/devices/Devices"));
const Files = lazy(() => import("../views/files/Files"));
const WouldFit = lazy(() => import("../views/fit/WouldFit"));
const AddLenses = lazy(() => import("../views/begin/AddLenses"));
const Begin = lazy(() => import("../views/begin/Begin"));
const Gallery = lazy(() => import("../views/gallery/Gallery"));
const InPocket = lazy(() => import("../views/pocket/InPocket"));
const PieceRecord = lazy(() => import("../views/log/record/PieceRecord"));
const WhatWasUsed = lazy(() => import("../views/log/use/WhatWasUsed"));
const Trials = lazy(() => import("../views/log/trials/Trials"));
const Pictures = lazy(() => import("../views/pictures/Pictures"));
const Key = lazy(() => import("../views/mounts/Key"));
const Mounts = lazy(() => import("../views/mounts/Mounts"));
const Outing = lazy(() => import("../views/outing/Outing"));
const Outings = lazy(() => import("../views/outing/Outings"));
const ClassSheet = lazy(() => import("../views/practice/ClassSheetPage"));
const Practice = lazy(() => import("../views/practice/Practice"));
const Plan = lazy(() => import("../views/plan/Plan"));
const Plans = lazy(() => import("../views/plan/Plans"));
const Terms = lazy(() => import("../views/terms/Terms"));
const System = lazy(() => import("../views/mounts/System"));

/** Who was refused is refused again; on a phone nobody waits for a machine that is elsewhere. */
const patient = (failures: number, error: Error) =>
  !(error instanceof ProblemError) && !(CARRIES && error instanceof AwayError) && failures < 2;

/** What opens upon them: it must be there when the server is not. */
const UPON = [
  fetchPanel,
  () => import("../parts/KeysPanel"),
  () => import("../views/light-path/PracticePanel"),
  () => import("../views/light-path/WorkingPanel"),
  () => import("../views/light-path/Compare"),
  () => import("../views/light-path/ChainEditor"),
];

/** One after the other, when nothing else is to do; not where a phone pays for what it fetches. */
async function fetchAhead() {
  if (CARRIES) return;
  for (const some of [...UPON, ...Object.values(OFTEN)]) {
    await some().catch(() => undefined);
  }
}

const queries = new QueryClient({
  defaultOptions: {
    // A browser that is offline asks all the same: what is kept answers, or it says who does not.
    queries: { staleTime: 60_000, refetchOnWindowFocus: false, retry: patient, networkMode: "always" },
    mutations: { networkMode: "always" },
  },
});

export function App() {
  useEffect(() => {
    if (!("requestIdleCallback" in window)) return;
    const idle = requestIdleCallback(() => void fetchAhead(), { timeout: 5000 });
    return () => cancelIdleCallback(idle);
  }, []);
  return (
    <ThemeProvider>
      <QueryClientProvider client={queries}>
        <BrowserRouter>
          <PracticesProvider>
            <Routes>
              <Route element={<Shell />}>
                <Route path="/" element={<LightPath />} />
                <Route path="/mounts" element={<Mounts />} />
                <Route path="/mounts/:id" element={<System />} />
                <Route path="/mounts/:id/key" element={<Key />} />
                <Route path="/kit/:kind?" element={<Kit />} />
                <Route path="/grid" element={<WholeKit />} />
                <Route path="/files" element={<Files />} />
                <Route path="/pocket" element={<InPocket />} />
                <Route path="/devices" element={<Devices />} />
                <Route path="/terms" element={<Terms />} />
                <Route path="/practice" element={<Practice />} />
                <Route path="/practice/sheet" element={<ClassSheet />} />
                <Route element={<OfPair />}>
                  <Route path="/frame" element={<Frame />} />
                  <Route path="/bench" element={<Bench />} />
                  <Route path="/setup/:id?" element={<SetUp />} />
                </Route>
                <Route path="/log" element={<Log />} />
                <Route path="/log/trials" element={<Trials />} />
                <Route path="/log/use" element={<WhatWasUsed />} />
                <Route path="/log/record/:kind/:id" element={<PieceRecord />} />
                <Route path="/log/pictures/:folder?" element={<Pictures />} />
                <Route path="/plan" element={<Plans />} />
                <Route path="/plan/:id" element={<Plan />} />
                <Route path="/outing" element={<Outings />} />
                <Route path="/outing/:id" element={<Outing />} />
                <Route path="/fit" element={<WouldFit />} />
                <Route path="/begin" element={<Begin />} />
                <Route path="/begin/lenses" element={<AddLenses />} />
                <Route path="/gallery/:state?" element={<Gallery />} />
                <Route path="*" element={<NoPage />} />
              </Route>
            </Routes>
          </PracticesProvider>
        </BrowserRouter>
      </QueryClientProvider>
    </ThemeProvider>
  );
}

function NoPage() {
  useScreen({ title: "", answer: "no page", className: "message" });
  return (
    <>
      <h1>There is no page at this address.</h1>
      <p className="message-actions">
        <Link to="/">To the light path</Link>
      </p>
    </>
  );
}
