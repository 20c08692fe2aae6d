import { useMutation, useQueryClient } from "@tanstack/react-query";
import Button from "antd/es/button";
import Input from "antd/es/input/Input";
import { useState } from "react";

import { client, unwrap } from "../../../api/client";
import type { InHand } from "../../../api/logQueries";
import type { Trial } from "../../../api/trialQueries";
import { Refused } from "../../../parts/Refused";
import type { Taken } from "../../../parts/taken";
import { Chips } from "../Chips";
import { type Common, EMPTY, type Rung, trialsOf } from "./ladder";
import { LadderTable } from "./LadderTable";

interface Props {
  rig: { lens: string; body: string; via: readonly string[] };
  hand: InHand;
  /** The frame that it begins from. */
  taken: Taken;
}

const USES: readonly { key: Trial["use"]; name: string }[] = [
  { key: "paid_still", name: "paid still" },
  { key: "film", name: "film" },
  { key: "web", name: "web" },
  { key: "play", name: "play" },
];
const SOURCES: readonly { key: Trial["source"]; name: string }[] = [
  { key: "own", name: "my own" },
  { key: "person", name: "another person’s" },
  { key: "shop", name: "a shop’s" },
  { key: "maker", name: "the maker’s" },
  { key: "review", name: "a review’s" },
];
const HOODS: readonly { key: string; name: string }[] = [
  { key: "on", name: "on" },
  { key: "off", name: "off" },
];

const begun = ({ rig: { lens, body, via }, hand, taken }: Props): Common => ({
  lens,
  body,
  via,
  use: USES.find(({ key }) => key === taken.use)?.key ?? "paid_still",
  source: "own",
  mark: hand.marks_mm.find((mark) => mark === taken.mark) ?? null,
  distance: taken.distance,
  hood: null,
  travel: hand.travel_steps.find((step) => step === taken.travel) ?? null,
  character: "",
  firmware: {},
  note: "",
});

/** A ladder of stops while it is noted; kept as one thing to take back. */
export function NewLadder({ rig, hand, taken }: Props) {
  const queries = useQueryClient();
  const [common, setCommon] = useState(() => begun({ rig, hand, taken }));
  const [rungs, setRungs] = useState<ReadonlyMap<number, Rung>>(new Map());
  const change = (changed: Partial<Common>) => setCommon((now) => ({ ...now, ...changed }));
  const keep = useMutation({
    mutationFn: async (trials: Trial[]) => unwrap(await client.POST("/api/v1/trials", { body: { trials } })),
    onSuccess: async () => {
      setRungs(new Map());
      // What is usable is told in many rooms.
      await queries.invalidateQueries();
    },
  });
  const noted = [...rungs.values()].filter(({ centre }) => centre !== null).length;
  const done = () => keep.mutate(trialsOf(rungs, common, taken, new Date(), () => crypto.randomUUID()));
  // A stop between two clicks of the ring was taken all the same.
  const stops = [...new Set([...hand.stops, ...(taken.stop === null ? [] : [taken.stop])])].sort(
    (one, other) => one - other,
  );
  const field = (name: string, key: "distance" | "character" | "note", hint = "") => (
    <label className="log-field">
      <span>{name}</span>
      <Input value={common[key]} placeholder={hint} onChange={(event) => change({ [key]: event.target.value })} />
    </label>
  );
  return (
    <section className="trials-new">
      <h2>A ladder of stops</h2>
      <p className="trials-how">In a cell: 1 sharp, 2 soft, 3 smeared, 4 dark. A tap goes through them.</p>
      <LadderTable
        stops={stops}
        taken={taken.stop}
        rungs={rungs}
        onChange={(stop, changed) =>
          setRungs((now) => new Map(now).set(stop, { ...(now.get(stop) ?? EMPTY), ...changed }))
        }
      />
      <Chips
        name="On"
        options={[
          { key: "this", name: hand.body_name },
          { key: "any", name: "whichever body" },
        ]}
        value={common.body === null ? "any" : "this"}
        onChange={(on) => on && change({ body: on === "any" ? null : rig.body })}
      />
      <Chips name="For" options={USES} value={common.use} onChange={(use) => use && change({ use })} />
      <Chips
        name="Whose test"
        options={SOURCES}
        value={common.source}
        onChange={(source) => source && change({ source })}
      />
      {hand.marks_mm.length > 0 && (
        <Chips
          name="Zoom at"
          options={hand.marks_mm.map((mark) => ({ key: mark, name: `${mark}` }))}
          value={common.mark}
          onChange={(mark) => change({ mark })}
        />
      )}
      <Chips
        name="Hood"
        options={HOODS}
        value={common.hood === null ? null : common.hood ? "on" : "off"}
        onChange={(hood) => change({ hood: hood === null ? null : hood === "on" })}
      />
      {hand.travel_steps.length > 0 && (
        <Chips
          name="Stabiliser"
          options={hand.travel_steps.map((step) => ({ key: step, name: `${Math.round(step * 100)} %` }))}
          value={common.travel}
          onChange={(travel) => change({ travel })}
        />
      )}
      <div className="trials-fields">
        {field("Distance, m", "distance")}
        {field("Wanted of it", "character", "swirl, glow, flare: no faults then")}
        {[...hand.via, hand.body].map((id, index) => (
          <label key={id} className="log-field">
            <span>{`Firmware of ${hand.via_names[index] ?? hand.body_name}`}</span>
            <Input
              value={common.firmware[id] ?? ""}
              maxLength={60}
              onChange={(event) => change({ firmware: { ...common.firmware, [id]: event.target.value } })}
            />
          </label>
        ))}
        {field("Note", "note")}
      </div>
      {keep.error && <Refused error={keep.error} />}
      <p className="message-actions">
        <Button type="primary" disabled={noted === 0} loading={keep.isPending} onClick={done}>
          {noted === 0 ? "Nothing is noted yet" : `Keep ${noted} ${noted === 1 ? "stop" : "stops"}`}
        </Button>
      </p>
    </section>
  );
}
