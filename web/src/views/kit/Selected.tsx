import "./Selected.css";

import { useMutation, useQueryClient } from "@tanstack/react-query";
import Button from "antd/es/button";

import { client, unwrap } from "../../api/client";
import type { Kind, ShelfKind } from "../../api/queries";
import { send } from "../../api/client";

interface Props {
  kind: Kind;
  shelfKind: ShelfKind;
  ids: readonly string[];
  /** How many there are to select. */
  count: number;
  retired: boolean;
  onAll: () => void;
  onNone: () => void;
}

/** What can be done with everything that is selected. */
export function Selected({ kind, shelfKind, ids, count, retired, onAll, onNone }: Props) {
  const queries = useQueryClient();
  const several = useMutation({
    mutationFn: async (way: "retire" | "back" | "remove") => {
      if (way === "remove") {
        const params = { path: { kind } };
        return unwrap(await client.POST("/api/v1/kit/{kind}/remove", { params, body: { ids: [...ids] } }));
      }
      const params = { path: { kind: shelfKind } };
      const body = { ids: [...ids], retired: way === "retire" };
      return unwrap(await client.POST("/api/v1/kit/{kind}/retire", { params, body }));
    },
    onSuccess: async () => {
      onNone();
      await queries.invalidateQueries();
    },
  });
  const takeOut = useMutation({
    mutationFn: async (format: "gear" | "table") => {
      const response = await send("/api/v1/export", JSON.stringify({ kind, ids, format }), "application/json");
      const link = document.createElement("a");
      link.href = URL.createObjectURL(await response.blob());
      link.download = `tropeion-${kind}.${format === "gear" ? "json" : "csv"}`;
      link.click();
      URL.revokeObjectURL(link.href);
    },
  });
  const ways: [label: string, action: () => void, danger?: boolean][] = [
    retired ? ["Restore from the archive", () => several.mutate("back")] : ["Archive", () => several.mutate("retire")],
    ["Remove", () => several.mutate("remove"), true],
    ["Export as a table", () => takeOut.mutate("table")],
    ["Export as a gear file", () => takeOut.mutate("gear")],
  ];
  return (
    <>
      <p className="selection" role="status">
        <strong>{`${ids.length} selected`}</strong>
        {ways.map(([label, action, danger = false]) => (
          <Button key={label} size="small" danger={danger} onClick={action}>
            {label}
          </Button>
        ))}
        <Button size="small" type="text" onClick={onAll}>{`All ${count}`}</Button>
        <Button size="small" type="text" onClick={onNone}>
          None
        </Button>
      </p>
      {[takeOut.error, several.error].map((error, index) =>
        error ? (
          <p key={index} role="alert" className="problem-line">
            {error.message}
          </p>
        ) : null,
      )}
    </>
  );
}
