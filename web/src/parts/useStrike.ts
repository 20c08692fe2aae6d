import { useMutation, useQueryClient } from "@tanstack/react-query";

import { client } from "../api/client";
import type { paths } from "../api/schema";

type RecordKind = paths["/api/v1/records/{kind}"]["get"]["parameters"]["path"]["kind"];

/** Strike records out, with a reason: they stay to be seen, and count no more. */
export function useStrike(kind: RecordKind) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ id, reason }: { id: string; reason: string }) =>
      client.POST("/api/v1/records/{kind}/{id}/strike", { params: { path: { kind, id } }, body: { reason } }),
    onSuccess: () => queries.invalidateQueries(),
  });
}
