import { useQuery } from "@tanstack/react-query";
import Button from "antd/es/button";

import { bodiesQuery } from "../../../api/queries";
import { AskedWith } from "./AskedWith";
import { ChosenRig } from "./ChosenRig";
import { columnsOf } from "./columns";
import { Drawings, heldOf } from "./Drawings";
import { Layout } from "./Layout";
import { RowTable } from "./RowTable";
import { tableAddress } from "./tableAddress";
import { useBecoming } from "./useBecoming";
import { useTable } from "./useTable";
import { buying, chainOf, modeName } from "./words";

/** One lens over all bodies and modes. */
export default function Bodies() {
  const becoming = useBecoming();
  const { address, asked, choose, scene } = becoming;
  const lens = address.lens ?? "";
  const query = { ...asked, lens, ...(address.body === null ? {} : { also: address.body }) };
  const table = useQuery({ ...bodiesQuery(query), enabled: lens !== "" });
  const { rows, chosen, key, names, instead } = useTable({
    becoming,
    table,
    title: "On every body",
    end: lens,
    answer: "becomes lens",
  });
  if (instead !== null || !table.data) return instead;
  const { reference, sentence, apart } = table.data;
  return (
    <Layout
      sentence={sentence}
      more={apart.length > 0 ? [`Nothing joins it to ${apart.map((id) => names[id] ?? id).join(", ")}.`] : []}
      asked={<AskedWith becoming={becoming} whose glass />}
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
      />
      <RowTable
        name="bodies"
        rows={rows}
        chosen={key}
        onChoose={choose}
        first={{
          head: "body and mode",
          title: ({ row }) => `${names[row.body] ?? row.body}, ${modeName(row)}`,
          under: ({ row }) => [chainOf(row.adapters, names), ...buying(row, table.data.currency)].join("; "),
        }}
        columns={columnsOf(address.practice, reference.name)}
      />
      <div className="toggles becomes-words">
        <Button href={tableAddress("lens", query)} download="tropeion-bodies.csv">
          Table as CSV
        </Button>
      </div>
    </Layout>
  );
}
