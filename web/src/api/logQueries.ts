import { api } from "./client";
import { STEADY } from "./queries";
import type { components } from "./schema";

export type { FolderSeen, InHand, LogDay, OffsetRow, RollPage, Roll } from "./schema";
/** The server leaves nothing out. */
export type Entry = Required<components["schemas"]["FiledEntry"]>;
export type EntryLine = components["schemas"]["EntryLine"] & { entry: Entry };
export type LogPage = components["schemas"]["LogPage"] & { entries: EntryLine[] };
export type RigUsed = components["schemas"]["RigUsed"] & { last: Entry };
export type PicturesReport = components["schemas"]["PicturesReport"];
export type PictureRow = components["schemas"]["PictureRow"];
export type LogEntryRow = components["schemas"]["EntryRow"];
export type ReadingWork = components["schemas"]["ReadingWork"];
export type SidecarRow = components["schemas"]["SidecarRow"];

/** The latest entries; the clock of the machine goes along. */
export const entriesQuery = (limit: number) =>
  api.queryOptions(
    "get",
    "/api/v1/log/entries",
    { params: { query: { limit } } },
    { ...STEADY, staleTime: 0, select: (page: unknown) => page as LogPage },
  );

export const rigsUsedQuery = api.queryOptions("get", "/api/v1/log/rigs", undefined, {
  staleTime: 0,
  select: (rigs: unknown) => rigs as RigUsed[],
});

/** What can be noted of a rig. */
export const inHandQuery = (query: { lens: string; body: string; via: string }) =>
  api.queryOptions("get", "/api/v1/log/rig", { params: { query } }, STEADY);

export const rollsQuery = api.queryOptions("get", "/api/v1/log/rolls", undefined, { staleTime: 0 });

export const sourcesQuery = api.queryOptions("get", "/api/v1/log/sources", undefined, { staleTime: 0 });

export const folderQuery = (number: number) =>
  api.queryOptions("get", "/api/v1/log/folders/{number}", { params: { path: { number } } }, { staleTime: 0 });

/** A folder held against the log, or against these days of it. */
export const picturesQuery = (number: number, days: { since?: string; until?: string }) =>
  api.queryOptions(
    "get",
    "/api/v1/log/folders/{number}/pictures",
    { params: { path: { number }, query: days } },
    { ...STEADY, staleTime: 0 },
  );

/** How far a reading or a writing has come; asked again until it ends. */
export const readingQuery = (id: string) =>
  api.queryOptions(
    "get",
    "/api/v1/log/readings/{id}",
    { params: { path: { id } } },
    {
      enabled: id !== "",
      staleTime: 0,
      refetchInterval: ({ state }) => (state.data?.state === "working" || !state.data ? 250 : false),
    },
  );
