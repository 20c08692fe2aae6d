import { keepPreviousData, queryOptions } from "@tanstack/react-query";

import { client, ProblemError, unwrap } from "./client";
import type { components, paths } from "./schema";

/** As it comes over the line: a pair of numbers is a list. */
type Sent<T> = T extends readonly (infer One)[]
  ? Sent<One>[]
  : T extends object
    ? { [Key in keyof T]: Sent<T[Key]> }
    : T;

export type BenchPiece = components["schemas"]["PieceOnBench"];
export type BenchQuantity = components["schemas"]["Quantity"];
export type PiecePage = components["schemas"]["PiecePage"];
export type ReadingSeries = components["schemas"]["ReadingSeries"];
export type SeriesWritten = components["schemas"]["SeriesWritten"];
export type SeriesReport = Sent<components["schemas"]["SeriesReport"]>;
export type CaliperShown = components["schemas"]["CaliperShown"];
export type ReadingsSaid = Sent<components["schemas"]["Said"]>;
export type SeenReport = Sent<components["schemas"]["SeenReport"]>;
export type SightShown = components["schemas"]["Sight"];
export type SawWritten = components["schemas"]["SawWritten"];
export type RigSeen = components["schemas"]["RigSeen"];
export type TrialShown = components["schemas"]["TrialShown"];
export type CauseReport = components["schemas"]["CauseReport"];
export type Build = components["schemas"]["Build"];
export type MountlessReport = components["schemas"]["MountlessReport"];
export type ThreadMeasured = components["schemas"]["ThreadMeasured"];
export type ThreadReport = components["schemas"]["ThreadReport"];
export type TryWritten = components["schemas"]["TryWritten"];
export type HoldingReport = components["schemas"]["HoldingReport"];
export type Measurement = components["schemas"]["Measurement"];
export type BenchKind = BenchPiece["kind"];

const patient = (failures: number, error: Error) => !(error instanceof ProblemError) && failures < 2;

export interface PieceOf {
  kind: BenchKind;
  id: string;
}

/** One length of it, and the rig for which a wedge is told. */
export type Measuring = PieceOf & { quantity: string; lens?: string; body?: string; via?: string };

export function benchPieceQuery(query: PieceOf) {
  return queryOptions({
    queryKey: ["bench", "piece", query],
    queryFn: async ({ signal }) =>
      unwrap(await client.GET("/api/v1/bench/piece", { params: { query }, signal })),
    retry: patient,
  });
}

/** Pieces to put on the bench, by any part of their names. */
export function benchPiecesQuery(q: string, mountless = false) {
  return queryOptions({
    queryKey: ["bench", "pieces", q, mountless],
    queryFn: async ({ signal }) =>
      unwrap(await client.GET("/api/v1/bench/pieces", { params: { query: { q, mountless } }, signal })),
    placeholderData: keepPreviousData,
    retry: patient,
  });
}

/** What readings say, beside those that were kept. */
export function readingsQuery(piece: Measuring, written: SeriesWritten) {
  return queryOptions({
    queryKey: ["bench", "readings", piece, written],
    queryFn: async ({ signal }) =>
      unwrap(
        await client.POST("/api/v1/bench/readings", { params: { query: piece }, body: written, signal }),
      ),
    placeholderData: keepPreviousData,
    retry: patient,
  });
}

export function measurementQuery(piece: PieceOf, found: Measurement, practice: Record<string, unknown>) {
  return queryOptions({
    queryKey: ["bench", "preview", piece, found, practice],
    queryFn: async ({ signal }) =>
      unwrap(
        await client.POST("/api/v1/bench/preview", {
          params: { query: { ...practice, ...piece } },
          body: found,
          signal,
        }),
      ),
    retry: patient,
  });
}

export type RigQuery = paths["/api/v1/bench/seen"]["post"]["parameters"]["query"];

export function seenQuery(query: RigQuery, seen: RigSeen) {
  return queryOptions({
    queryKey: ["bench", "seen", query, seen],
    queryFn: async ({ signal }) =>
      unwrap(await client.POST("/api/v1/bench/seen", { params: { query }, body: seen, signal })),
    placeholderData: keepPreviousData,
    retry: patient,
  });
}

export function trialsQuery(query: RigQuery) {
  return queryOptions({
    queryKey: ["bench", "trials", query],
    queryFn: async ({ signal }) =>
      unwrap(await client.GET("/api/v1/bench/trials", { params: { query }, signal })),
    retry: patient,
  });
}

export function differencesQuery(query: RigQuery) {
  return queryOptions({
    queryKey: ["bench", "differences", query],
    queryFn: async ({ signal }) =>
      unwrap(await client.GET("/api/v1/bench/differences", { params: { query }, signal })),
    retry: patient,
  });
}

export function causesQuery(query: RigQuery, answers: string[]) {
  return queryOptions({
    queryKey: ["bench", "causes", query, answers],
    queryFn: async ({ signal }) =>
      unwrap(await client.POST("/api/v1/bench/causes", { params: { query }, body: { answers }, signal })),
    placeholderData: keepPreviousData,
    retry: patient,
  });
}

export function holdingQuery(query: { lens: string; body: string }, tries: TryWritten[], handMm: number) {
  return queryOptions({
    queryKey: ["bench", "holding", query, tries, handMm],
    queryFn: async ({ signal }) =>
      unwrap(
        await client.POST("/api/v1/bench/holding", {
          params: { query },
          body: { tries, hand_mm: handMm },
          signal,
        }),
      ),
    placeholderData: keepPreviousData,
    retry: patient,
  });
}

export function mountlessQuery(query: { lens: string; body: string; near_m?: number; margin_mm?: number }) {
  return queryOptions({
    queryKey: ["bench", "mountless", query],
    queryFn: async ({ signal }) =>
      unwrap(await client.GET("/api/v1/bench/mountless", { params: { query }, signal })),
    placeholderData: keepPreviousData,
    retry: patient,
  });
}

export function threadQuery(measured: ThreadMeasured) {
  return queryOptions({
    queryKey: ["bench", "thread", measured],
    queryFn: async ({ signal }) =>
      unwrap(await client.POST("/api/v1/bench/thread", { body: measured, signal })),
    placeholderData: keepPreviousData,
    retry: patient,
  });
}

export function throwQuery(query: { lens: string; turns: number; from_m: number; to_m?: number }) {
  return queryOptions({
    queryKey: ["bench", "throw", query],
    queryFn: async ({ signal }) =>
      unwrap(await client.GET("/api/v1/bench/throw", { params: { query }, signal })),
    placeholderData: keepPreviousData,
    retry: patient,
  });
}

export const portsQuery = queryOptions({
  queryKey: ["bench", "ports"],
  queryFn: async ({ signal }) => unwrap(await client.GET("/api/v1/bench/ports", { signal })),
  retry: patient,
});
