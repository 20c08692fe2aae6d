import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";

import { outingQuery } from "../../api/queries";
import { doDeed, newDeed, onSent } from "../../pocket/deeds";
import { useDeeds } from "../../pocket/hooks";
import type { Pocket } from "../../pocket/store";
import type { Changes } from "./changes";
import { Changed } from "./PocketFits";

type Outing = Pocket["outings"][number];

/** Packing lists to tick off, and what is shot. */
export function PocketOutings({ pocket, changes }: { pocket: Pocket; changes: Changes }) {
  if (pocket.outings.length === 0)
    return (
      <>
        <h1>No outing is planned.</h1>
        <p>Under Set-up › Outings several rigs become one packing list: it is carried from then on.</p>
      </>
    );
  return pocket.outings.map((one) => <OneOuting key={one.id} outing={one} was={changes.outing(one)} />);
}

/** What is packed: as it stands, and upon that what waits here. */
function usePacked({ id, ticked }: Outing) {
  const queries = useQueryClient();
  const options = outingQuery(id);
  const standing = useQuery(options).data?.outing.packed ?? ticked;
  const waiting = useDeeds() ?? [];
  useEffect(
    () =>
      onSent((deed) => {
        if (deed.kind !== "pack" || deed.outing !== id) return undefined;
        return queries.invalidateQueries({ queryKey: ["get", "/api/v1/outings/{id}"] });
      }),
    [queries, id],
  );
  const packed = new Set(standing);
  for (const { deed } of waiting)
    if (deed.kind === "pack" && deed.outing === id) {
      if (deed.on) packed.add(deed.piece);
      else packed.delete(deed.piece);
    }
  return {
    packed,
    toggle: (piece: string) => void doDeed({ kind: "pack", ...newDeed(), outing: id, piece, on: !packed.has(piece) }),
  };
}

function OneOuting({ outing, was }: { outing: Outing; was: Outing | null | undefined }) {
  const { packed, toggle } = usePacked(outing);
  const left = outing.packed.filter(({ id }) => !packed.has(id)).length;
  return (
    <article className="pocket-card" data-outing={outing.id}>
      <h1>{outing.name}</h1>
      <p className="pocket-note">{[outing.day, outing.says].filter(Boolean).join(": ")}</p>
      {was !== null && <Changed was={was ? was.says : ""} />}
      <h2>{left === 0 && outing.packed.length > 0 ? "All packed" : `${left} to pack`}</h2>
      <ul className="pocket-ticks">
        {outing.packed.map(({ id, name, count, missing, says }) => (
          <li key={id} className={missing > 0 ? "caution" : ""}>
            <label>
              <input type="checkbox" checked={packed.has(id)} onChange={() => toggle(id)} />
              <span>
                {count > 1 ? `${count} × ${name}` : name}
                {missing > 0 && <b>{` ${missing} not owned`}</b>}
                {says && <span className="pocket-note">{` ${says}`}</span>}
              </span>
            </label>
          </li>
        ))}
      </ul>
      <h2>Shots</h2>
      <ol className="numbered">
        {outing.shots.map(({ name, rig, says }, at) => (
          <li key={`${name} ${at}`}>
            <b>{name}</b> {rig} <span className="pocket-note">{says}</span>
          </li>
        ))}
      </ol>
      {outing.batteries.map((one) => (
        <p key={one}>{one}</p>
      ))}
      {outing.at_home.length > 0 && <p className="pocket-note">{`Stays at home: ${outing.at_home.join(", ")}.`}</p>}
    </article>
  );
}
