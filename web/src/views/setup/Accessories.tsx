import { useQuery } from "@tanstack/react-query";
import Select from "antd/es/select";
import { useId } from "react";

import type { SetUp } from "../../api/client";
import { shelfQuery } from "../../api/queries";

interface Props {
  report: SetUp;
  chosen: readonly string[];
  onChange: (chosen: string[]) => void;
}

const VERDICTS: Record<SetUp["pairs"][number]["verdict"], string> = {
  works: "goes together",
  with_part: "with",
  fixed: "goes together, but",
  fails: "does not go together",
  untried: "not tried",
};
const WORST = ["fails", "fixed", "with_part", "untried", "works"];

/** What is put on the rig, and what of it goes together. */
export function Accessories({ report, chosen, onChange }: Props) {
  const id = useId();
  const shelf = useQuery(shelfQuery("accessories"));
  const { names, pairs } = report;
  const sorted = [...pairs].sort((one, other) => WORST.indexOf(one.verdict) - WORST.indexOf(other.verdict));
  const told = sorted.filter(({ verdict }) => verdict !== "untried");
  const untried = sorted.filter(({ verdict }) => verdict === "untried");
  return (
    <section>
      <h2>
        <label htmlFor={id}>What is put on it</label>
      </h2>
      <Select
        id={id}
        mode="multiple"
        className="setup-accessories"
        style={{ width: "100%" }}
        placeholder="foot, cage, hood …"
        showSearch={{ optionFilterProp: "label" }}
        value={[...chosen]}
        options={(shelf.data?.rows ?? []).map((row) => ({ value: row.id, label: row.name }))}
        onChange={(next: string[]) => onChange(next)}
      />
      {told.length > 0 && (
        <ul className="findings" data-list="pairs">
          {told.map((pair) => (
            <li
              key={`${pair.a} ${pair.b}`}
              className={pair.verdict === "fails" ? "caution" : "info"}
              data-verdict={pair.verdict}
            >
              {`${names[pair.a] ?? pair.a}, ${names[pair.b] ?? pair.b}: `}
              <strong>{VERDICTS[pair.verdict]}</strong>
              {pair.says ? ` ${pair.verdict === "fails" || pair.verdict === "works" ? "– " : ""}${pair.says}` : ""}
              {pair.by === "measures" ? " (by their measures)" : pair.on ? ` (${pair.on})` : ""}
            </li>
          ))}
        </ul>
      )}
      {untried.length > 0 && (
        <p data-list="untried">
          {`Nobody has tried: ${untried
            .map((pair) => `${names[pair.a] ?? pair.a} with ${names[pair.b] ?? pair.b}`)
            .join("; ")}.`}
        </p>
      )}
    </section>
  );
}
