import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";

import { client, ProblemError, unwrap } from "../../api/client";
import { entriesQuery, type Entry, type EntryLine } from "../../api/logQueries";
import { about, historyQuery } from "../../api/queries";

/** An entry that is on its way, or that was refused: it stays on the page until it is kept. */
export interface Waiting {
  entry: Entry;
  because: string;
  refused: ProblemError | null;
}

/** Entries are tried again so often. */
const AGAIN_MS = 4_000;

/** The latest entries, and those that this page has not been able to send. */
export function useLogging(limit: number) {
  const queries = useQueryClient();
  const page = useQuery(entriesQuery(limit));
  const [waiting, setWaiting] = useState<readonly Waiting[]>([]);
  const sending = useRef(new Set<string>());
  // As it was when the page was read.
  const off = page.data ? (page.dataUpdatedAt - Date.parse(page.data.now)) / 1000 : null;
  const refresh = useCallback(
    () => queries.invalidateQueries({ predicate: about("log/entries", "log/rigs", "log/rolls", "history") }),
    [queries],
  );
  const send = useCallback(
    async ({ entry, because }: Waiting) => {
      if (sending.current.has(entry.id)) return;
      sending.current.add(entry.id);
      try {
        await client.POST("/api/v1/log/entries", { body: { entry, because } });
        setWaiting((some) => some.filter((one) => one.entry.id !== entry.id));
        await refresh();
      } catch (error) {
        const refused = error instanceof ProblemError && error.problem.status === 422 ? error : null;
        if (refused) setWaiting((some) => some.map((one) => (one.entry.id === entry.id ? { ...one, refused } : one)));
      } finally {
        sending.current.delete(entry.id);
      }
    },
    [refresh],
  );
  const log = useCallback(
    (entry: Entry) => {
      const one = { entry, because: "", refused: null };
      setWaiting((some) => [one, ...some]);
      void send(one);
    },
    [send],
  );
  const tryAgain = useCallback(() => {
    waiting.filter(({ refused }) => refused === null).forEach((one) => void send(one));
  }, [waiting, send]);
  const left = waiting.some(({ refused }) => refused === null);
  useEffect(() => {
    if (!left) return;
    const timer = window.setInterval(tryAgain, AGAIN_MS);
    window.addEventListener("online", tryAgain);
    return () => {
      window.clearInterval(timer);
      window.removeEventListener("online", tryAgain);
    };
  }, [left, tryAgain]);
  return {
    page,
    waiting,
    /** This device's clock minus the server's, in seconds. */
    off,
    log,
    tryAgain,
    /** Keep what a rig cannot have, with a reason. */
    insist: (entry: Entry, because: string) => {
      const one = { entry, because, refused: null };
      setWaiting((some) => some.map((other) => (other.entry.id === entry.id ? one : other)));
      void send(one);
    },
    drop: (id: string) => setWaiting((some) => some.filter(({ entry }) => entry.id !== id)),
    refresh,
  };
}

/** Corrections in place, each upon the version that is shown. */
export function useCorrecting() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: async ({ line, changed, because }: { line: EntryLine; changed: Partial<Entry>; because: string }) =>
      unwrap(
        await client.PUT("/api/v1/log/entries/{id}", {
          params: { path: { id: line.entry.id } },
          body: { entry: { ...line.entry, ...changed }, because, version: line.version },
        }),
      ),
    onSuccess: () =>
      Promise.all([
        queries.invalidateQueries({ predicate: about("log") }),
        queries.invalidateQueries({ queryKey: historyQuery.queryKey }),
      ]),
  });
}
