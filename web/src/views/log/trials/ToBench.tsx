import Button from "antd/es/button";
import Input from "antd/es/input/Input";
import { useState } from "react";
import { Link, useNavigate } from "react-router";

import type { RigSeen } from "../../../api/benchQueries";
import { adaptersIn, rigPath } from "../../../parts/rig";
import { layOnBench } from "../../../parts/toBench";
import { numberIn } from "../settings";

interface Props {
  rig: { lens: string; body: string; via: string };
  /** Some corner is worse than its centre. */
  softCorners: boolean;
}

const NOTHING = { needs: "", doubt: "0.02", near: "", far: "", from: "" };

/** What was seen of the ring rather than of the lens goes to the bench, with its doubt. */
export function ToBench({ rig, softCorners }: Props) {
  const navigate = useNavigate();
  const [said, setSaid] = useState(NOTHING);
  const path = (view: string) => `${rigPath({ ...rig, adapters: adaptersIn(rig.via) }, "/bench")}&view=${view}`;
  const saw: RigSeen["saw"] = [];
  const add = (kind: RigSeen["saw"][number]["kind"], values: (number | null)[]) => {
    if (values.every((value) => value !== null))
      saw.push({ kind, values, doubt: null, from_front: false, left_out: false });
  };
  const needs = numberIn(said.needs);
  // What it needs is what it is too short by.
  add("length", [needs === null ? null : -needs, numberIn(said.doubt)]);
  add("far_limit", [numberIn(said.far)]);
  add("near_limit", [numberIn(said.near)]);
  add("infinity_from", [numberIn(said.from)]);
  const field = (name: string, key: keyof typeof NOTHING) => (
    <label className="log-field">
      <span>{name}</span>
      <Input
        value={said[key]}
        inputMode="decimal"
        onChange={(event) => setSaid((now) => ({ ...now, [key]: event.target.value }))}
      />
    </label>
  );
  return (
    <section className="trials-bench">
      <h2>Is it the ring?</h2>
      <div className="trials-fields">
        {field("It needs, mm", "needs")}
        {field("give or take, mm", "doubt")}
        {field("Sharp only from, m", "near")}
        {field("Sharp only up to, m", "far")}
        {field("Far things sharp from f/", "from")}
      </div>
      <p className="message-actions">
        <Button
          disabled={saw.length === 0}
          onClick={() => {
            layOnBench(rig, saw);
            void navigate(path("seen"));
          }}
        >
          Lay it on the bench
        </Button>
        {softCorners && <Link to={path("frames")}>Corners soft: which frame tells why</Link>}
      </p>
    </section>
  );
}
