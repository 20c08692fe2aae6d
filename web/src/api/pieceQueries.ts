import { api, type Practice } from "./client";
import type { components } from "./schema";

export type Whereabouts = components["schemas"]["Whereabouts"];
export type Happening = components["schemas"]["Happening"];
export type PieceRecordPage = components["schemas"]["PieceRecordPage"];
export type RecordedKind = PieceRecordPage["kind"];
export type PieceEvent = components["schemas"]["PieceEvent"];
export type UsedReport = components["schemas"]["UsedReport"];

/** What is lent, borrowed or gone. */
export const awayQuery = api.queryOptions("get", "/api/v1/pieces/away");

export const recordQuery = (kind: RecordedKind, id: string) =>
  api.queryOptions("get", "/api/v1/pieces/{kind}/{id}/record", { params: { path: { kind, id } } }, { staleTime: 0 });

export const usedQuery = (practice: Practice) =>
  api.queryOptions("get", "/api/v1/pieces/used", { params: { query: { practice } } }, { staleTime: 0 });
