import { api, type Practice } from "./client";
import type { Sent } from "./planQueries";
import { STEADY } from "./queries";
import type { components, Measurement, paths, RigSeen, SeriesWritten, ThreadMeasured, TryWritten } from "./schema";

export type * from "./schema";
export type BenchPiece = components["schemas"]["PieceOnBench"];
export type BenchQuantity = components["schemas"]["Quantity"];
export type SeriesReport = Sent<components["schemas"]["SeriesReport"]>;
export type ReadingsSaid = Sent<components["schemas"]["Said"]>;
export type SeenReport = Sent<components["schemas"]["SeenReport"]>;
export type SightShown = components["schemas"]["Sight"];
export type BenchKind = BenchPiece["kind"];

export interface PieceOf {
  kind: BenchKind;
  id: string;
}

/** One length of it, and the rig for which a wedge is told. */
export type Measuring = PieceOf & { quantity: string; lens?: string; body?: string; via?: string };

export const benchPieceQuery = (query: PieceOf) =>
  api.queryOptions("get", "/api/v1/bench/piece", { params: { query } });

/** Pieces to put on the bench, by any part of their names. */
export const benchPiecesQuery = (q: string, mountless = false) =>
  api.queryOptions("get", "/api/v1/bench/pieces", { params: { query: { q, mountless } } }, STEADY);

/** What readings say, beside those that were kept. */
export const readingsQuery = (query: Measuring, body: SeriesWritten) =>
  api.queryOptions("post", "/api/v1/bench/readings", { params: { query }, body }, STEADY);

export const measurementQuery = (piece: PieceOf, body: Measurement, practice: Practice) =>
  api.queryOptions("post", "/api/v1/bench/preview", { params: { query: { practice, ...piece } }, body });

/** A rig, and the practice that it is judged by. */
export type RigQuery = paths["/api/v1/bench/seen"]["post"]["parameters"]["query"];

export const seenQuery = (query: RigQuery, body: RigSeen) =>
  api.queryOptions("post", "/api/v1/bench/seen", { params: { query }, body }, STEADY);

export interface OnBench {
  lens: string;
  body: string;
  via?: string;
}

const rigAlone = ({ lens, body, via = "" }: OnBench) => ({ params: { query: { lens, body, via } } });

export const trialsQuery = (rig: OnBench) => api.queryOptions("get", "/api/v1/bench/trials", rigAlone(rig));

export const differencesQuery = (rig: OnBench) => api.queryOptions("get", "/api/v1/bench/differences", rigAlone(rig));

export const causesQuery = (query: RigQuery, answers: string[]) =>
  api.queryOptions("post", "/api/v1/bench/causes", { params: { query }, body: { answers } }, STEADY);

export const holdingQuery = (query: { lens: string; body: string }, tries: TryWritten[], hand_mm: number) =>
  api.queryOptions("post", "/api/v1/bench/holding", { params: { query }, body: { tries, hand_mm } }, STEADY);

export const mountlessQuery = (query: { lens: string; body: string; near_m?: number; margin_mm?: number }) =>
  api.queryOptions("get", "/api/v1/bench/mountless", { params: { query } }, STEADY);

export const threadQuery = (body: ThreadMeasured) => api.queryOptions("post", "/api/v1/bench/thread", { body }, STEADY);

export const throwQuery = (query: { lens: string; turns: number; from_m: number; to_m?: number }) =>
  api.queryOptions("get", "/api/v1/bench/throw", { params: { query } }, STEADY);

export const portsQuery = api.queryOptions("get", "/api/v1/bench/ports");
