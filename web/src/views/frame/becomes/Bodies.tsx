import { useQuery } from "@tanstack/react-query";
import Button from "antd/es/button";
import { useMemo } from "react";

import { bodiesQuery } from "../../../api/queries";
import { numbered } from "../../../drawing/views";
import { PrintButton } from "../../../parts/Printed";
import { useFrameScreen } from "../useFrameScreen";
import { AskedWith } from "./AskedWith";
import { ChosenRig } from "./ChosenRig";
import { columnsOf } from "./columns";
import { Drawings, heldOf } from "./Drawings";
import { tableHelp } from "./help";
import { Layout, NoTable } from "./Layout";
import { RowTable } from "./RowTable";
import { tableAddress } from "./tableAddress";
import { chosenOf, useBecoming } from "./useBecoming";
import { buying, chainOf, modeName } from "./words";

/** One lens over all bodies and modes. */
export default function Bodies() {
  const becoming = useBecoming();
  const { address, change, asked, choose, scene, row: named } = becoming;
  const lens = address.lens ?? "";
  const query = { ...asked, lens, ...(address.body === null ? {} : { also: address.body }) };
  const table = useQuery({ ...bodiesQuery(query), enabled: lens !== "" });
  const rows = useMemo(() => numbered(table.data?.rows ?? []), [table.data]);
  const chosen = chosenOf(rows, named, address);
  const names = table.data?.names ?? {};
  const { error, missing } = useFrameScreen({
    address,
    change,
    names,
    title: "On every body",
    answer: table.isSuccess && !table.isPlaceholderData ? `becomes lens ${lens}` : undefined,
    waiting: lens !== "" && table.isPending,
    help: tableHelp("On every body"),
    keys: {},
  });
  if (table.error ?? error)
    return <NoTable error={table.error ?? error} onRetry={() => void table.refetch()} />;
  if (lens === "") return <NoTable pick={missing} />;
  if (!table.data) return <NoTable />;
  const { reference, sentence, apart } = table.data;
  const key = chosen?.row.key ?? null;
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
        <PrintButton>Print this sheet</PrintButton>
      </div>
    </Layout>
  );
}
