import { useMutation, useQueryClient } from "@tanstack/react-query";
import Button from "antd/es/button";
import Select from "antd/es/select";
import { useState } from "react";

import { client, unwrap } from "../api/client";
import { historyQuery } from "../api/queries";
import type { components } from "../api/schema";

type History = components["schemas"]["History"];

const KEEPS = [
  { value: "all", label: "all of it" },
  { value: "actions", label: "the last 1,000 steps" },
  { value: "year", label: "one year" },
] as const;

/** How long the history is kept. What would be let go of is asked for first. */
export default function KeepHistory({ history }: { history: History }) {
  const queries = useQueryClient();
  const [wanted, setWanted] = useState<History["keep"] | null>(null);
  const keep = useMutation({
    mutationFn: async (choice: History["keep"]) =>
      unwrap(await client.PUT("/api/v1/history/keep", { body: { keep: choice } })),
    onSuccess: async () => {
      setWanted(null);
      await queries.invalidateQueries({ queryKey: historyQuery.queryKey });
    },
  });
  const choose = (choice: History["keep"]) => {
    if (history.lets_go[choice]) setWanted(choice);
    else keep.mutate(choice);
  };
  const gone = wanted ? (history.lets_go[wanted] ?? 0) : 0;
  return (
    <div className="history-keep">
      <div className="history-how-long">
        <span id="keep-history">Keep the history</span>
        <Select
          value={wanted ?? history.keep}
          options={[...KEEPS]}
          onChange={choose}
          loading={keep.isPending}
          aria-labelledby="keep-history"
        />
      </div>
      {wanted && (
        <p role="alert">
          {`${gone} older ${gone === 1 ? "step" : "steps"} could then no longer be undone. Your collection stays as it is.`}{" "}
          <Button size="small" type="primary" onClick={() => keep.mutate(wanted)} loading={keep.isPending}>
            Let go of them
          </Button>{" "}
          <Button size="small" onClick={() => setWanted(null)}>
            Cancel
          </Button>
        </p>
      )}
      {keep.isError && (
        <p role="alert" className="problem-line">
          {keep.error.message}
        </p>
      )}
    </div>
  );
}
