import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";

import {
  type BenchQuantity,
  type PieceOf,
  type PiecePage,
  readingsQuery,
  type RigQuery,
  type SeriesWritten,
} from "../../../api/benchQueries";
import { client, unwrap } from "../../../api/client";
import { CaliperSheet } from "../../../drawing/bench/CaliperSheet";
import { mm, today, unbroken } from "../../../parts/format";
import { labelOf } from "../../../parts/labels";
import { Refused } from "../../../parts/Refused";
import { useKept } from "../useKept";
import type { BenchRig } from "../useRig";
import { CaliperPanel } from "./CaliperPanel";
import { Result } from "./Result";
import { SeriesList } from "./SeriesList";
import { useCaliper } from "./useCaliper";

type Source = SeriesWritten["source"];

interface Props {
  asked: PieceOf;
  rig: BenchRig;
  page: PiecePage;
  quantity: BenchQuantity;
  onKept: (page: PiecePage) => Promise<void>;
}

const ofRig = ({ lens, body, via }: BenchRig, id: string) => [lens, body, ...(via ?? "").split(",")].includes(id);
const rigOf = ({ lens, body, via }: RigQuery) => ({ lens, body, ...(via === undefined ? {} : { via }) });

const PLACES = [0, 90, 180, 270] as const;
const EMPTY: SeriesWritten = {
  readings: [],
  zero_mm: 0,
  resolution_mm: 0.01,
  error_mm: 0.02,
  source: "typed",
  day: "",
};

/** One length of a piece: the drawing with the jaws, the readings as they come, and what they say. */
export function Reading({ asked, rig, page, quantity, onKept }: Props) {
  const piece = { ...asked, quantity: quantity.quantity };
  const [held, setWritten] = useKept(`readings ${asked.kind} ${asked.id} ${quantity.quantity}`, EMPTY);
  const written = { ...held, day: today() };
  const [source, setSource] = useState<Source>(written.readings.length > 0 ? written.source : "typed");
  const around = quantity.seat_mm !== null;
  const taken = written.readings.length;
  const [place, setPlace] = useState<number>(PLACES[taken % 4] ?? 0);
  const caliper = useCaliper(piece, source === "simulated");
  // A wedge tells by what stands behind it.
  const before = rig.query && ofRig(rig, asked.id) ? rigOf(rig.query) : {};
  const said = useQuery(readingsQuery({ ...piece, ...before }, written));
  const report = said.data?.report ?? null;
  const add = (value: number) => {
    const reading = { mm: value, angle_deg: around ? place : null, struck: "", confirmed: false };
    setWritten({ ...written, source, readings: [...written.readings, reading] });
    const next = (place + 90) % 360;
    setPlace(next);
    if (source === "simulated") caliper.place(next);
  };
  const keep = useMutation({
    mutationFn: async () => {
      const { kind, id, quantity: of } = piece;
      return unwrap(
        await client.POST("/api/v1/bench/series", {
          params: { query: { kind, id, quantity: of } },
          body: written,
        }),
      );
    },
    onSuccess: (next) => {
      setWritten({ ...EMPTY, zero_mm: written.zero_mm });
      return onKept(next);
    },
  });
  // With none in hand, the latest that was kept.
  const kept = page.series.find((one) => one.quantity === quantity.quantity && !one.struck);
  const shown = taken > 0 ? written.readings : (kept?.readings ?? []);
  const simulated = source === "simulated" && caliper.state !== null;
  const usual = report?.measured.mean_mm ?? quantity.nominal_mm ?? quantity.to_mm;
  const last = written.readings.at(-1);
  const display = simulated
    ? mm(caliper.state?.shows_mm ?? 0)
    : last
      ? mm(last.mm)
      : quantity.nominal_mm === null && report === null
        ? "––.––"
        : mm(usual);
  return (
    <>
      <div className="sheet bench-sheet">
        <div className="screen-head" aria-live="polite">
          <h1 data-says={said.isFetching ? undefined : report?.says}>
            {unbroken(report?.says ?? `${page.piece.name}, ${quantity.label}: not measured yet`)}
          </h1>
          <p>
            {unbroken(
              report?.nominal_says ?? "Three or four readings around the mount face, and it says what they come to.",
            )}
          </p>
        </div>
        <CaliperSheet
          piece={page.piece}
          quantity={quantity}
          openingMm={simulated ? (caliper.openingMm ?? usual) : usual}
          display={display}
          touching={simulated ? (caliper.state?.touching ?? false) : taken > 0}
          onMove={simulated ? caliper.move : null}
          places={PLACES.map((deg) => ({
            deg,
            reading: shown.findLast((one) => one.angle_deg === deg && !one.struck)?.mm ?? null,
          }))}
          current={around ? place : null}
        />
        <How assumed={page.piece.outline.assumed} quantity={quantity} />
      </div>
      <div className="below bench-below">
        <div>
          <CaliperPanel
            quantity={quantity}
            written={written}
            source={source}
            place={around ? place : null}
            caliper={caliper}
            onSource={(next) => {
              setSource(next);
              if (written.readings.length === 0) setWritten({ ...written, source: next });
            }}
            onPlace={(deg) => {
              setPlace(deg);
              if (source === "simulated") caliper.place(deg);
            }}
            onReading={add}
            onChange={setWritten}
            slips={taken > 0 ? (report?.slips ?? []) : []}
            onKeep={() => keep.mutate()}
            keeping={keep.isPending}
          />
          {keep.error && <Refused error={keep.error} />}
          {said.error && <Refused error={said.error} />}
        </div>
        <div>
          <Result
            asked={asked}
            quantity={quantity}
            page={page}
            said={said.data ?? null}
            written={written}
            settled={!said.isFetching}
            onKeep={async () => (taken > 0 ? await keep.mutateAsync() : null)}
            onWritten={onKept}
          />
          <SeriesList page={page} quantity={quantity} onKept={onKept} />
        </div>
      </div>
    </>
  );
}

/** What is measured, from where, and what the jaws keep off. */
function How({ assumed, quantity }: { assumed: readonly string[]; quantity: BenchQuantity }) {
  return (
    <>
      {assumed.length > 0 && (
        <p className="bench-how route-gives" data-state="assumed">
          {`Drawn as is usual, since nobody stated it: ${assumed.map(labelOf).join(", ")}.`}
        </p>
      )}
      <p className="bench-how">
        <strong>{`From ${quantity.datum}. `}</strong>
        {`${quantity.says} `}
        <span className="bench-off">{quantity.keep_off}</span>
      </p>
    </>
  );
}
