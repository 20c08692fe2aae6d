import { useQuery } from "@tanstack/react-query";
import Button from "antd/es/button";
import InputNumber from "antd/es/input-number";
import Select from "antd/es/select";
import { useState } from "react";

import type { Practice } from "../../api/client";
import { type GridChange, gridChangeQuery, type GridDifference, type GridReport } from "../../api/planQueries";
import { mountsQuery, shelfQuery } from "../../api/queries";
import { Refused } from "../../parts/Refused";
import { Differs } from "./Differs";
import { Plain } from "../../parts/Plain";

type What = GridChange["what"];
const WHATS: readonly { value: What; label: string }[] = [
  { value: "sold", label: "If I sold" },
  { value: "bought", label: "If I bought" },
  { value: "converted", label: "If I had converted" },
  { value: "measured", label: "If this ring measured" },
];

/** What a change would do to what is at hand, before anything is changed. */
export function WhatIf({ report, practice }: { report: GridReport; practice: Practice }) {
  const [what, setWhat] = useState<What>("sold");
  const [id, setId] = useState<string | null>(null);
  const [mount, setMount] = useState<string | null>(null);
  const [length, setLength] = useState<number | null>(null);
  const [changes, setChanges] = useState<GridChange[]>([]);
  const adapters = useQuery({ ...shelfQuery("adapters"), enabled: what !== "converted" });
  const mounts = useQuery({ ...mountsQuery(practice), enabled: what === "converted" });
  const found = useQuery({ ...gridChangeQuery(changes, practice), enabled: changes.length > 0 });
  const rings = (adapters.data?.rows ?? []).map((row) => ({
    value: row.id,
    label: row.name,
    held: row.owned + row.borrowed > 0,
  }));
  const ends = [...report.bodies, ...report.lenses].map((one) => ({
    value: one.id,
    label: one.name,
    held: one.at_hand > 0,
  }));
  const options =
    what === "converted"
      ? ends.filter(({ value }) => report.lenses.some((one) => one.id === value))
      : what === "measured"
        ? rings
        : [...ends, ...rings].filter(({ held }) => what === "bought" || held);
  const names = new Map([...ends, ...rings].map(({ value, label }) => [value, label]));
  const whole = id !== null && (what !== "converted" || mount !== null) && (what !== "measured" || length !== null);
  const add = () => {
    if (id === null || !whole) return;
    setChanges((before) => [
      ...before,
      {
        what,
        id,
        ...(what === "converted" ? { mount } : {}),
        ...(what === "measured" ? { length_mm: length } : {}),
      },
    ]);
    setId(null);
  };
  return (
    <section className="what-if">
      <h2>What a change would do</h2>
      <div className="what-if-form">
        <Select
          aria-label="Which change"
          value={what}
          options={[...WHATS]}
          onChange={(value: What) => {
            setWhat(value);
            setId(null);
          }}
        />
        <Select
          aria-label="Which piece"
          placeholder="any part of its name"
          className="what-if-piece"
          showSearch={{ optionFilterProp: "label" }}
          value={id}
          options={options}
          onChange={setId}
        />
        {what === "converted" && (
          <Select
            aria-label="To which mount"
            placeholder="to which mount"
            className="what-if-mount"
            showSearch={{ optionFilterProp: "label" }}
            value={mount}
            options={(mounts.data?.systems ?? []).map((one) => ({ value: one.id, label: one.name }))}
            onChange={setMount}
          />
        )}
        {what === "measured" && (
          <InputNumber
            aria-label="Its length in millimetres"
            placeholder="mm"
            min={0}
            max={500}
            step={0.01}
            value={length}
            onChange={setLength}
          />
        )}
        <Button type="primary" disabled={!whole} onClick={add}>
          See
        </Button>
      </div>
      <Thought
        changes={changes}
        names={names}
        onTakeBack={(place) => setChanges((before) => before.filter((_, other) => other !== place))}
      />
      {found.error && <Refused error={found.error} />}
      {changes.length > 0 && found.data && (
        <div data-what-if={changes.length}>
          <p className="what-if-said">
            {counted(found.data)}
            {found.data.stranded.length > 0 && ` Stranded then: ${found.data.stranded.join(", ")}.`}
            {found.data.freed.length > 0 && ` In use again: ${found.data.freed.join(", ")}.`}
          </p>
          <Differs found={found.data} />
        </div>
      )}
    </section>
  );
}

interface ThoughtProps {
  changes: readonly GridChange[];
  names: ReadonlyMap<string, string>;
  onTakeBack: (place: number) => void;
}

/** The changes that are thought of together. */
function Thought({ changes, names, onTakeBack }: ThoughtProps) {
  return (
    <ul className="what-if-changes">
      {changes.map((one, place) => {
        const what = WHATS.find(({ value }) => value === one.what)?.label ?? "";
        const to = one.mount ? ` to ${one.mount}` : one.length_mm ? ` ${one.length_mm} mm` : "";
        return (
          <li key={`${one.what} ${one.id} ${place}`}>
            {`${what} ${names.get(one.id) ?? one.id}${to}`}{" "}
            <Plain className="unfold" onClick={() => onTakeBack(place)}>
              take back
            </Plain>
          </li>
        );
      })}
    </ul>
  );
}

function counted({ better, worse }: GridDifference): string {
  if (better + worse === 0) return "Nothing that you have would work better or worse.";
  return `${better} ${better === 1 ? "pair" : "pairs"} better, ${worse} worse.`;
}
