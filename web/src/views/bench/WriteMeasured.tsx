import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import Button from "antd/es/button";
import { useState } from "react";

import { type BenchKind, benchPieceQuery, measurementQuery } from "../../api/benchQueries";
import { client, unwrap } from "../../api/client";
import { useAddress } from "../../app/useAddress";
import { EffectTold } from "../../parts/EffectTold";
import { mm, today } from "../../parts/format";
import { labelOf } from "../../parts/labels";
import { Refused } from "../../parts/Refused";

interface Props {
  kind: BenchKind;
  id: string;
  fields: Record<string, number>;
  says: string;
}

/** Writes what was found to a piece, and shows first what that changes. */
export function WriteMeasured({ kind, id, fields, says }: Props) {
  const [open, setOpen] = useState(false);
  const queries = useQueryClient();
  const [address] = useAddress();
  const page = useQuery({ ...benchPieceQuery({ kind, id }), enabled: open });
  const found = { fields, day: today(), says, version: page.data?.version ?? 1 };
  const effect = useQuery({
    ...measurementQuery({ kind, id }, found, address.practice),
    enabled: open && page.isSuccess,
  });
  const write = useMutation({
    mutationFn: async () =>
      unwrap(await client.POST("/api/v1/bench/write", { params: { query: { kind, id } }, body: found })),
    onSuccess: () => {
      setOpen(false);
      return queries.invalidateQueries();
    },
  });
  if (!open) {
    return (
      <Button onClick={() => setOpen(true)} data-action="look">
        {write.isSuccess ? "Written" : "Write it to the piece …"}
      </Button>
    );
  }
  return (
    <div className="bench-write" data-effect={effect.isSuccess ? "settled" : "busy"}>
      <ul className="bench-changes">
        {Object.entries(fields).map(([name, value]) => (
          <li key={name}>
            <span>{labelOf(name)}</span>
            <span>{mm(value, 3)}</span>
          </li>
        ))}
      </ul>
      {effect.data && <EffectTold effect={effect.data} kind={kind} />}
      {effect.error && <Refused error={effect.error} />}
      <div className="bench-actions">
        <Button
          type="primary"
          disabled={!page.isSuccess}
          loading={write.isPending}
          onClick={() => write.mutate()}
          data-action="write"
        >
          Write it
        </Button>
        <Button type="text" onClick={() => setOpen(false)}>
          Cancel
        </Button>
      </div>
      {write.error && <Refused error={write.error} />}
    </div>
  );
}
