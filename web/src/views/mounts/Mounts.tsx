import "./Mounts.css";

import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import Segmented from "antd/es/segmented";
import { Link, useNavigate, useSearchParams } from "react-router";

import { mountsQuery } from "../../api/queries";
import { usePractices } from "../../app/Practices";
import { useScreen } from "../../app/screen";
import { Failed } from "../../parts/Failed";
import { LookAlikes } from "./LookAlikes";
import { Matrix } from "./Matrix";
import { HELP } from "./help";
import { Crossings, type Side } from "./crossings";
import { Ruler } from "./Ruler";
import { Plain } from "../../parts/Plain";

/** All systems on one ruler; choose one, from either side, and see who has room for whom. */
export default function Mounts() {
  const [parameters, setParameters] = useSearchParams();
  const navigate = useNavigate();
  const { own: practice } = usePractices();
  const mounts = useQuery(mountsQuery(practice));
  const of = parameters.get("of");
  const side: Side = parameters.get("side") === "body" ? "body" : "lens";
  const go = (next: { of?: string | null; side?: Side }, replace = false) => {
    setParameters(
      (before) => {
        const after = new URLSearchParams(before);
        if (next.of === null) after.delete("of");
        else if (next.of !== undefined) after.set("of", next.of);
        if (next.side) after.set("side", next.side);
        return after;
      },
      { replace },
    );
  };
  const crossings = useMemo(() => (mounts.data ? new Crossings(mounts.data) : null), [mounts.data]);
  const systems = mounts.data?.systems ?? [];
  const chosen = systems.find(({ id }) => id === of) ?? null;
  const step = (by: number) => {
    const at = systems.findIndex(({ id }) => id === of);
    const next = systems[at < 0 ? 0 : Math.min(Math.max(at + by, 0), systems.length - 1)];
    if (next) go({ of: next.id }, of !== null);
  };
  useScreen({
    title: "Mounts",
    answer: mounts.isSuccess ? `mounts ${of ?? "all"} ${side}` : undefined,
    busy: mounts.isPending,
    className: "mounts",
    help: HELP,
    keys: {
      ArrowDown: () => step(1),
      ArrowUp: () => step(-1),
      s: () => go({ side: side === "lens" ? "body" : "lens" }),
      Enter: () => {
        if (chosen) void navigate(`/mounts/${chosen.id}`);
      },
      l: () => void navigate("/"),
      Escape: () => go({ of: null }),
    },
  });
  return (
    <>
      {mounts.error && <Failed error={mounts.error} onRetry={() => void mounts.refetch()} />}
      {mounts.data && systems.length === 0 && (
        <div className="message" data-state="empty">
          <h1>The collection has no mount systems yet.</h1>
          <p className="message-actions">
            <Link to="/">Load a gear file, or take the sample world</Link>
          </p>
        </div>
      )}
      {mounts.data && crossings && systems.length > 0 && (
        <>
          <div className="sheet ruler-sheet">
            <div className="ruler-head">
              <h1>
                {chosen
                  ? side === "lens"
                    ? `Lenses of ${chosen.name} onto every body`
                    : `Every lens onto bodies of ${chosen.name}`
                  : "From the sensor to the mount face"}
              </h1>
              {chosen ? (
                <div className="ruler-tools">
                  <Segmented<Side>
                    value={side}
                    onChange={(value) => go({ side: value })}
                    options={[
                      { value: "lens", label: "its lenses" },
                      { value: "body", label: "its bodies" },
                    ]}
                  />
                  <Link to={`/mounts/${chosen.id}`}>{`The ${chosen.name} system`}</Link>
                  {chosen.generations > 1 && <Link to={`/mounts/${chosen.id}/key`}>Which generation is it?</Link>}
                  <Plain className="unfold" onClick={() => go({ of: null })}>
                    all alike
                  </Plain>
                </div>
              ) : (
                <p>Choose a system: which mounts leave room for an adapter, how much, and which adapters there are.</p>
              )}
            </div>
            <Ruler
              report={mounts.data}
              crossings={crossings}
              chosen={chosen}
              side={side}
              onChoose={(id) => go({ of: id === of ? null : id })}
            />
          </div>
          <div className="below mounts-below">
            <Matrix report={mounts.data} crossings={crossings} chosen={of} side={side} onChoose={go} />
            <LookAlikes report={mounts.data} />
          </div>
        </>
      )}
    </>
  );
}
