import { useMutation, useQueryClient } from "@tanstack/react-query";

import { client } from "../../api/client";
import type { PictureRow } from "../../api/logQueries";
import { about } from "../../api/queries";

interface Settling {
  pictures: readonly PictureRow[];
  /** Null: they belong to none. */
  entry: string | null;
}

/** Settles doubts: all at once are one step to take back. */
export function useSettling() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ pictures, entry }: Settling) =>
      client.POST("/api/v1/log/assignments", {
        body: {
          settled: pictures.map(({ files, taken_at, body }) => ({ files, taken_at, body, entry })),
        },
      }),
    onSuccess: () => queries.invalidateQueries({ predicate: about("log/folders", "history") }),
  });
}

/** What the resources of pictures tell anew after a change. */
export const ABOUT_PICTURES = about("log/folders", "history");
