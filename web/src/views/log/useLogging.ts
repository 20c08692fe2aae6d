import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo } from "react";

import { AwayError, client, unwrap } from "../../api/client";
import { entriesQuery, type Entry, type EntryLine } from "../../api/logQueries";
import { about, historyQuery } from "../../api/queries";
import { usePractices } from "../../app/Practices";
import { doDeed, entryOf, insistOn, leaveOut, newDeed, onSent, sendDeeds } from "../../pocket/deeds";
import { useAnswering, useCarried, useDeeds } from "../../pocket/hooks";
import type { WaitingDeed } from "../../pocket/store";
import { keyOf } from "./RigChoice";

/** What of the log waits here: on its way, or refused until somebody decides. */
export type WaitingEntry = WaitingDeed;

/** The latest entries, and what this device has not been able to send. */
export function useLogging(limit: number) {
  const { collection } = usePractices().start;
  const queries = useQueryClient();
  const page = useQuery(entriesQuery(limit));
  const { away } = useAnswering();
  const { off: carriedOff } = useCarried();
  const deeds = useDeeds();
  const waiting = useMemo(
    () => (deeds ?? []).filter(({ deed, collection: of }) => of === collection && entryOf(deed) !== null),
    [deeds, collection],
  );
  // As it was when the page was read; what is kept of a page says nothing of now.
  const measured = page.data && !away ? (page.dataUpdatedAt - Date.parse(page.data.now)) / 1000 : null;
  const refresh = useCallback(
    () => queries.invalidateQueries({ predicate: about("log/entries", "log/rigs", "log/rolls", "history") }),
    [queries],
  );
  useEffect(() => onSent((deed) => (entryOf(deed) === null ? undefined : refresh())), [refresh]);
  const log = useCallback((entry: Entry) => {
    void doDeed({ kind: "entry", ...newDeed(), at: entry.at, entry, because: "" });
  }, []);
  return {
    page,
    waiting,
    /** The latest entry of a rig that waits here. */
    lastWaiting: (key: string): Entry | undefined =>
      waiting.flatMap(({ deed }) => (deed.kind === "entry" && keyOf(deed.entry) === key ? [deed.entry] : [])).at(-1),
    /** This device's clock minus the server's, in seconds. */
    off: carriedOff ?? measured,
    log,
    tryAgain: () => void sendDeeds(),
    /** Keep what a rig cannot have, with a reason; or a correction upon what stands by now. */
    insist: (one: WaitingEntry, because: string) => void insistOn(one, because),
    drop: (one: WaitingEntry) => void leaveOut(one),
    refresh,
  };
}

/** Corrections in place, each upon the version that is shown; where nobody answers they wait. */
export function useCorrecting(waits: boolean) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: async ({ line, changed, because }: { line: EntryLine; changed: Partial<Entry>; because: string }) => {
      const entry = { ...line.entry, ...changed };
      const later = () =>
        doDeed({ kind: "correction", ...newDeed(), entry, because, version: Math.max(1, line.version) });
      if (waits) return later();
      try {
        unwrap(
          await client.PUT("/api/v1/log/entries/{id}", {
            params: { path: { id: line.entry.id } },
            body: { entry, because, version: line.version },
          }),
        );
      } catch (error) {
        if (!(error instanceof AwayError)) throw error;
        await later();
      }
    },
    onSuccess: () =>
      Promise.all([
        queries.invalidateQueries({ predicate: about("log") }),
        queries.invalidateQueries({ queryKey: historyQuery.queryKey }),
      ]),
  });
}

/** Strike an entry out; where nobody answers it waits. */
export function useStrikingOut() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: async ({ entry, waits }: { entry: Entry; waits: boolean }) => {
      const later = () => doDeed({ kind: "strike", ...newDeed(), entry: entry.id, reason: "" }, { struck: entry });
      if (waits) return later();
      try {
        await client.POST("/api/v1/records/{kind}/{id}/strike", {
          params: { path: { kind: "log_entries", id: entry.id } },
          body: { reason: "" },
        });
      } catch (error) {
        if (!(error instanceof AwayError)) throw error;
        await later();
      }
    },
    onSuccess: () => queries.invalidateQueries(),
  });
}
