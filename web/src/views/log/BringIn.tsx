import { useMutation, useQueryClient } from "@tanstack/react-query";
import Button from "antd/es/button";
import { useState } from "react";

import { send } from "../../api/client";
import type { LogImported } from "../../api/schema";
import { FileChooser } from "../../parts/FileChooser";
import { Refused } from "../../parts/Refused";

type Take = "look" | "new" | "replace";

/** A log file brought in: looked at first, then taken as one step, which undo takes back. */
export function BringIn() {
  const queries = useQueryClient();
  const [file, setFile] = useState<File | null>(null);
  const bring = useMutation({
    mutationFn: async ({ from, take }: { from: File; take: Take }) => {
      const answer = await send(`/api/v1/log/file?take=${take}`, from, "application/json");
      return (await answer.json()) as LogImported;
    },
    onSuccess: ({ written }) => (written ? queries.invalidateQueries() : undefined),
  });
  const found = bring.data;
  const take = (how: Take) => {
    if (file) bring.mutate({ from: file, take: how });
  };
  return (
    <div className="log-bring-in">
      <FileChooser
        says="Bring in a log file"
        label="A log file"
        accept=".json,application/json"
        busy={bring.isPending}
        onFile={(chosen) => {
          setFile(chosen);
          bring.mutate({ from: chosen, take: "look" });
        }}
      />
      {bring.error && <Refused error={bring.error} />}
      {found && (
        <div data-state={found.written ? "taken" : "looked-at"} role="status">
          <p>{said(found)}</p>
          {!found.written && (
            <p className="message-actions">
              {found.new > 0 && (
                <Button type="primary" onClick={() => take("new")}>
                  {`Take the ${found.new} new`}
                </Button>
              )}
              {found.other.length > 0 && <Button onClick={() => take("replace")}>Take those that differ too</Button>}
            </p>
          )}
        </div>
      )}
    </div>
  );
}

function said({ new: fresh, same, other, written }: LogImported): string {
  const differ = other.length > 0 ? `, ${other.length} differ: ${other.slice(0, 5).join(", ")}` : "";
  return `${written ? "Taken: " : ""}${fresh} new, ${same} the same${differ}.`;
}
