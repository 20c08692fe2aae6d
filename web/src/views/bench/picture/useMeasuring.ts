import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { client, unwrap } from "../../../api/client";
import { type MeasureAsked, type MeasuredAnswer, measuringQuery } from "../../../api/measuredQueries";
import { usePractices } from "../../../app/Practices";

/** A picture measured in the background: begun, looked after, stopped. */
export function useMeasuring() {
  const practice = usePractices().own;
  const [id, setId] = useState("");
  const work = useQuery(measuringQuery(id));
  const start = useMutation({
    mutationFn: async (asked: MeasureAsked) =>
      unwrap(await client.POST("/api/v1/measured/work", { params: { query: { practice } }, body: asked })),
    onSuccess: (begun) => setId(begun.id),
  });
  const stop = useMutation({
    mutationFn: () => client.DELETE("/api/v1/measured/work/{id}", { params: { path: { id } } }),
  });
  const state = id === "" ? undefined : work.data?.state;
  const answer = state === "done" ? (work.data?.answer as MeasuredAnswer | null | undefined) : null;
  return {
    id,
    answer: answer ?? null,
    why: state === "failed" ? (work.data?.why ?? "") : state === "stopped" ? "Stopped." : "",
    done: work.data?.done ?? 0,
    working: start.isPending || (id !== "" && (state === undefined || state === "working") && !work.error),
    error: start.error ?? work.error,
    start: (asked: MeasureAsked) => start.mutate(asked),
    stop: () => stop.mutate(),
    clear: () => {
      setId("");
      start.reset();
    },
  };
}
