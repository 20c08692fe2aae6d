import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";

import { client, unwrap } from "../../api/client";
import { type PlanAnswer, planQuery, type PlanQuestion, workQuery } from "../../api/planQueries";
import type { Chosen } from "../../app/practice";
import { useSettled } from "../../parts/useSettled";
import { about } from "../../api/queries";

// So long a better plan is sought.
const SECONDS = 10;

/** A plan as it is written, and the work on it: begun anew whenever what is asked changes. */
export function usePlan(id: string, practice: Chosen) {
  const queries = useQueryClient();
  const options = planQuery(id, practice);
  const page = useQuery(options);
  const [work, setWork] = useState("");
  const last = useRef("");
  const [answer, setAnswer] = useState<PlanAnswer | null>(null);
  const progress = useQuery(workQuery(work));
  const question = page.data?.question;
  const asked = useSettled(question ? JSON.stringify({ question, practice }) : "", 250);
  const begin = useMutation({
    mutationFn: async (body: { question: PlanQuestion; practice: Chosen }) => {
      if (last.current !== "")
        await client.DELETE("/api/v1/plans/work/{id}", { params: { path: { id: last.current } } });
      return unwrap(await client.POST("/api/v1/plans/work", { body: { ...body, seconds: SECONDS, curve: true } }));
    },
    onSuccess: (begun) => {
      last.current = begun.id;
      setWork(begun.id);
    },
  });
  const { mutate } = begin;
  useEffect(() => {
    if (asked !== "") mutate(JSON.parse(asked) as { question: PlanQuestion; practice: Chosen });
  }, [asked, mutate]);
  const made = progress.data?.answer ?? null;
  // What was there stays until the next is made.
  if (made && made !== answer) setAnswer(made);
  const put = useMutation({
    mutationFn: async (written: { name: string; question: PlanQuestion; version: number }) =>
      unwrap(
        await client.PUT("/api/v1/plans/{id}", {
          params: { path: { id }, query: { practice } },
          body: written,
        }),
      ),
    onSuccess: async (changed) => {
      queries.setQueryData(options.queryKey, changed);
      await queries.invalidateQueries({ predicate: about("plans") });
    },
    // Changed in another window: as it stands now is shown, and what was not written is told.
    onError: () => queries.invalidateQueries({ queryKey: options.queryKey }),
  });
  const keep = useMutation({
    mutationFn: async () =>
      unwrap(
        await client.PUT("/api/v1/plans/{id}/kept", {
          params: { path: { id }, query: { practice } },
          body: { work },
        }),
      ),
    onSuccess: async (changed) => {
      queries.setQueryData(options.queryKey, changed);
      await queries.invalidateQueries({ predicate: about("plans") });
    },
  });
  const stop = () => {
    if (work !== "") void client.DELETE("/api/v1/plans/work/{id}", { params: { path: { id: work } } });
  };
  const written = page.data;
  const change = (next: Partial<PlanQuestion>) => {
    if (written)
      put.mutate({
        name: written.name,
        question: { ...written.question, ...next },
        version: written.version,
      });
  };
  const rename = (name: string) => {
    if (written) put.mutate({ name, question: written.question, version: written.version });
  };
  /** Made anew of the same question: the collection has changed. */
  const again = () => {
    if (asked !== "") mutate(JSON.parse(asked) as { question: PlanQuestion; practice: Chosen });
  };
  return {
    again,
    page,
    progress,
    answer,
    begin,
    put,
    keep,
    stop,
    change,
    rename,
  };
}
