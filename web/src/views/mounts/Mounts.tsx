import { useQuery } from "@tanstack/react-query";
import Segmented from "antd/es/segmented";
import { useState } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";

import { mountsQuery, startQuery } from "../../api/queries";
import { DEFAULT_PRACTICE } from "../../app/practice";
import { useKeys } from "../../app/useKeys";
import { Top } from "../../parts/Top";
import { Failed } from "../light-path/States";
import { LookAlikes } from "./LookAlikes";
import { Matrix } from "./Matrix";
import { MountsHelp } from "./MountsHelp";
import { Ruler } from "./Ruler";

interface Props {
  dark: boolean;
  onToggleTheme: () => void;
}

export type Side = "lens" | "body";

/** All systems on one ruler; choose one, from either side, and see who has room for whom. */
export default function Mounts({ dark, onToggleTheme }: Props) {
  const [parameters, setParameters] = useSearchParams();
  const navigate = useNavigate();
  const [help, setHelp] = useState(false);
  const start = useQuery(startQuery);
  const practice = { ...DEFAULT_PRACTICE, ...start.data?.practice };
  const mounts = useQuery({ ...mountsQuery(practice), enabled: start.isSuccess });
  const of = parameters.get("of");
  const side: Side = parameters.get("side") === "body" ? "body" : "lens";
  const go = (next: { of?: string | null; side?: Side }) => {
    setParameters(
      (before) => {
        const after = new URLSearchParams(before);
        if (next.of === null) after.delete("of");
        else if (next.of !== undefined) after.set("of", next.of);
        if (next.side) after.set("side", next.side);
        return after;
      },
      { replace: true },
    );
  };
  const systems = mounts.data?.systems ?? [];
  const chosen = systems.find(({ id }) => id === of) ?? null;
  const step = (by: number) => {
    const at = systems.findIndex(({ id }) => id === of);
    const next = systems[at < 0 ? 0 : Math.min(Math.max(at + by, 0), systems.length - 1)];
    if (next) go({ of: next.id });
  };
  useKeys({
    ArrowDown: () => { step(1); },
    ArrowUp: () => { step(-1); },
    s: () => { go({ side: side === "lens" ? "body" : "lens" }); },
    Enter: () => { if (chosen) void navigate(`/mounts/${chosen.id}`); },
    l: () => { void navigate("/"); },
    d: onToggleTheme,
    "?": () => { setHelp(true); },
    Escape: () => { if (help) setHelp(false); else go({ of: null }); },
  });
  const error = start.error ?? mounts.error;
  return (
    <>
      <title>Mounts · Tropeion</title>
      <Top dark={dark} onToggleTheme={onToggleTheme} onHelp={() => { setHelp(true); }} />
      <main className="page mounts" aria-busy={mounts.isPending} data-answer-for={mounts.isSuccess ? `mounts ${of ?? "all"} ${side}` : undefined}>
        {error && <Failed error={error} onRetry={() => { void start.refetch(); void mounts.refetch(); }} />}
        {mounts.data && systems.length === 0 && (
          <div className="message" data-state="empty">
            <h1>The collection has no mount systems yet.</h1>
            <p className="message-actions">
              <Link to="/">Load a gear file, or take the sample world</Link>
            </p>
          </div>
        )}
        {mounts.data && systems.length > 0 && (
          <>
            <div className="sheet ruler-sheet">
              <div className="ruler-head">
                <h1>
                  {chosen
                    ? side === "lens"
                      ? `Lenses of ${chosen.name} onto every body`
                      : `Every lens onto bodies of ${chosen.name}`
                    : "From the sensor to the seat"}
                </h1>
                {chosen ? (
                  <div className="ruler-tools">
                    <Segmented<Side>
                      value={side}
                      onChange={(value) => { go({ side: value }); }}
                      options={[
                        { value: "lens", label: "its lenses" },
                        { value: "body", label: "its bodies" },
                      ]}
                    />
                    <Link to={`/mounts/${chosen.id}`}>{`${chosen.name} whole`}</Link>
                    {chosen.generations > 1 && <Link to={`/mounts/${chosen.id}/key`}>Which generation is it?</Link>}
                    <button type="button" className="unfold" onClick={() => { go({ of: null }); }}>
                      all alike
                    </button>
                  </div>
                ) : (
                  <p>Choose a system: who has room for it, how much, and what is on offer between them.</p>
                )}
              </div>
              <Ruler report={mounts.data} chosen={chosen} side={side} onChoose={(id) => { go({ of: id === of ? null : id }); }} />
            </div>
            <div className="below mounts-below">
              <Matrix report={mounts.data} chosen={of} side={side} onChoose={go} />
              <LookAlikes report={mounts.data} />
            </div>
          </>
        )}
      </main>
      <MountsHelp open={help} onClose={() => { setHelp(false); }} />
    </>
  );
}
