import { lazy, Suspense } from "react";
import { useSearchParams } from "react-router";

import { PictureView } from "./PictureView";
import { viewIn } from "./viewNames";

const Bodies = lazy(() => import("./becomes/Bodies"));
const Lenses = lazy(() => import("./becomes/Lenses"));
const Wish = lazy(() => import("./becomes/Wish"));
const Reach = lazy(() => import("./reach/Reach"));

/** What the sensor would record, and what the rig becomes in tables. */
export default function Frame() {
  const [words] = useSearchParams();
  const view = viewIn(words);
  if (view === "picture") return <PictureView />;
  return (
    <Suspense fallback={<div className="skeleton" aria-busy="true" />}>
      {view === "bodies" && <Bodies />}
      {view === "lenses" && <Lenses />}
      {view === "wish" && <Wish />}
      {view === "reach" && <Reach />}
    </Suspense>
  );
}
