import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useSearchParams } from "react-router";

import { type BenchKind, benchPieceQuery, type PiecePage } from "../../../api/benchQueries";
import { useChange } from "../../../app/useChange";
import { Failed } from "../../../parts/Failed";
import { PiecePicker } from "../PiecePicker";
import type { RigProps } from "../useRig";
import { Quantities } from "./Quantities";
import { Reading } from "./Reading";
import { Plain } from "../../../parts/Plain";

const KINDS: Record<string, BenchKind> = { adapters: "adapters", lenses: "lenses", bodies: "bodies" };

/** A piece on the bench: what of it is measured, where the jaws go, what the readings say. */
export default function Measure({ rig }: RigProps) {
  const [words] = useSearchParams();
  const [, change] = useChange();
  const queries = useQueryClient();
  const ofPair = [
    ...(rig.via ?? "")
      .split(",")
      .filter(Boolean)
      .map((id) => ["adapters", id] as const),
    ...(rig.body === null ? [] : [["bodies", rig.body] as const]),
    ...(rig.lens === null ? [] : [["lenses", rig.lens] as const]),
  ];
  const [said = "", id = ""] = (words.get("piece") ?? "").split(":");
  const named = KINDS[said];
  const [first] = ofPair;
  const [kind, chosen] = named && id ? [named, id] : (first ?? [null, null]);
  const asked = { kind: kind ?? "adapters", id: chosen ?? "" } as const;
  const options = benchPieceQuery(asked);
  const page = useQuery({ ...options, enabled: kind !== null });
  const pick = (one: BenchKind, other: string) =>
    change({ piece: `${one}:${other}`, of: null, view: "measure" }, false);
  const kept = (next: PiecePage) => {
    queries.setQueryData(options.queryKey, next);
    return queries.invalidateQueries();
  };
  if (page.error) return <Failed error={page.error} onRetry={() => void page.refetch()} />;
  const current = page.data?.piece ?? null;
  const quantity =
    current?.quantities.find((one) => one.quantity === words.get("of")) ?? current?.quantities[0] ?? null;
  return (
    <>
      <div className="bench-choose">
        <PiecePicker
          label="Which piece is on the bench?"
          value={current === null ? null : { kind: current.kind, id: current.id, name: current.name }}
          onPick={pick}
        />
        {ofPair.length > 0 && (
          <span className="toggles" role="group" aria-label="Pieces of the pair">
            {ofPair.map(([one, other]) => (
              <Plain
                key={other}
                className="filter-toggle"
                aria-pressed={other === current?.id}
                onClick={() => pick(one, other)}
              >
                {rig.names[other] ?? other}
              </Plain>
            ))}
          </span>
        )}
      </div>
      {kind === null ? (
        <div className="message" data-state="no-piece">
          <h1>Which piece is on the bench?</h1>
          <p>
            A ring is measured from face to face, a body from its film-plane mark to its mount face. Choose a piece
            above, or a lens and a body.
          </p>
        </div>
      ) : current && quantity && page.data ? (
        <>
          <Quantities
            piece={current}
            current={quantity.quantity}
            onChoose={(of) => change({ of, piece: `${current.kind}:${current.id}`, view: "measure" })}
          />
          <Reading
            key={`${current.kind} ${current.id} ${quantity.quantity}`}
            asked={asked}
            rig={rig}
            page={page.data}
            quantity={quantity}
            onKept={kept}
          />
        </>
      ) : (
        <div className="sheet skeleton" aria-busy="true" />
      )}
    </>
  );
}
