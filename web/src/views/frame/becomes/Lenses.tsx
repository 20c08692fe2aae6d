import { useQuery } from "@tanstack/react-query";
import Button from "antd/es/button";
import InputNumber from "antd/es/input-number";
import Select from "antd/es/select";
import { useId, useMemo } from "react";

import type { Becomings } from "../../../api/client";
import { lensesQuery } from "../../../api/queries";
import { AskedWith } from "./AskedWith";
import { ChosenRig } from "./ChosenRig";
import { columnsOf } from "./columns";
import { Drawings, heldOf } from "./Drawings";
import { Layout } from "./Layout";
import { type Column, RowTable } from "./RowTable";
import { tableAddress } from "./tableAddress";
import { useBecoming } from "./useBecoming";
import { useTable } from "./useTable";
import { buying, chainOf, modeName } from "./words";

// Keys of rows hold commas and tildes, never this.
const BETWEEN = "|";

/** The lenses over one body, as a set. */
export default function Lenses() {
  const becoming = useBecoming();
  const { address, words, change, asked, choose, scene } = becoming;
  const body = address.body ?? "";
  const without = useMemo(() => (words.get("out") ?? "").split(BETWEEN).filter(Boolean), [words]);
  const gap = Number(words.get("gap"));
  const query = {
    ...asked,
    body,
    ...(address.lens === null ? {} : { also: address.lens }),
    mode: words.get("mode") ?? "",
    without,
    ...(gap >= 1.1 && gap <= 10 ? { gap } : {}),
  };
  const table = useQuery({ ...lensesQuery(query), enabled: body !== "" });
  const { rows, chosen, key, names, instead } = useTable({
    becoming,
    table,
    title: "Lenses on this body",
    end: body,
    answer: "becomes body",
  });
  if (instead !== null || !table.data) return instead;
  const { reference, lenses, apart } = table.data;
  const turn = (which: string) => {
    const out = without.includes(which) ? without.filter((one) => one !== which) : [...without, which];
    change({ out: out.join(BETWEEN) }, false);
  };
  const counted = new Set(lenses?.spans.map(({ row }) => row));
  const inTheSet: Column = {
    head: "in the set",
    words: true,
    cell: ({ row }) =>
      counted.has(row.key) || without.includes(row.key) ? (
        <label className="in-set">
          <input
            type="checkbox"
            checked={!without.includes(row.key)}
            aria-label={`${names[row.lens] ?? row.lens} counts`}
            onChange={() => turn(row.key)}
          />
        </label>
      ) : null,
  };
  const [first = "", ...more] = lenses?.sentences ?? [];
  return (
    <Layout
      sentence={[first, more[0] ?? ""].join(" ")}
      more={more.slice(1)}
      asked={
        <AskedWith becoming={becoming} whose glass>
          <ModeAndGap table={table.data} mode={query.mode} gap={lenses?.gap_ratio ?? null} change={change} />
        </AskedWith>
      }
      beside={chosen && <ChosenRig key={key} becoming={becoming} row={chosen.row} names={names} />}
    >
      <Drawings
        rows={rows}
        chosen={key}
        onChoose={choose}
        reference={reference}
        held={heldOf(chosen)}
        scene={scene}
        depth={address.practice.equivalence === "framing_and_depth"}
        gaps={lenses?.gaps ?? []}
      />
      <RowTable
        name="lenses"
        rows={rows}
        chosen={key}
        onChoose={choose}
        first={{
          head: "lens",
          title: ({ row }) => names[row.lens] ?? row.lens,
          under: ({ row }) =>
            [
              chainOf(row.adapters, names),
              ...(row.whole ? [] : [modeName(row)]),
              ...buying(row, table.data.currency),
            ].join("; "),
        }}
        columns={[...columnsOf(address.practice, reference.name), inTheSet]}
      />
      {apart.length > 0 && (
        <p className="becomes-words">{`Nothing joins: ${apart.map((id) => names[id] ?? id).join(", ")}.`}</p>
      )}
      <div className="toggles becomes-words">
        <Button href={tableAddress("body", query)} download="tropeion-lenses.csv">
          Table as CSV
        </Button>
      </div>
    </Layout>
  );
}

interface AskedProps {
  table: Becomings;
  mode: string;
  gap: number | null;
  change: (next: Record<string, string | null>, replace?: boolean) => void;
}

/** Which mode all of them are taken in, and from how much on a gap is one. */
function ModeAndGap({ table, mode, gap, change }: AskedProps) {
  const [modeId, gapId] = [useId(), useId()];
  return (
    <>
      <div className="frame-asked">
        <label htmlFor={modeId}>Sensor in use</label>
        <Select
          id={modeId}
          popupMatchSelectWidth={false}
          value={mode}
          options={[
            { value: "", label: "what each lens covers" },
            ...table.modes.map((value) => ({ value, label: value === "full" ? "whole sensor" : value })),
          ]}
          onChange={(next) => change({ mode: next }, false)}
        />
      </div>
      <div className="frame-asked">
        <label htmlFor={gapId}>A gap from, ×</label>
        <InputNumber
          id={gapId}
          min={1.1}
          max={10}
          step={0.1}
          value={gap}
          onChange={(value) => change({ gap: value === null ? "" : String(value) }, true)}
        />
      </div>
    </>
  );
}
