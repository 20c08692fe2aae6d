import { keepPreviousData, queryOptions } from "@tanstack/react-query";

import { type Becomings, client, type FrameReport, type Practice, ProblemError, unwrap } from "./client";
import type { operations, paths } from "./schema";

const patient = (failures: number, error: Error) => !(error instanceof ProblemError) && failures < 2;

export const startQuery = queryOptions({
  queryKey: ["start"],
  queryFn: async () => unwrap(await client.GET("/api/v1/start")),
  retry: patient,
});

export interface Question {
  lens: string;
  body: string;
  via?: string;
  practice: Practice;
  /** With the routes that another beats in everything. */
  everything?: boolean;
}

export function matchQuery({ lens, body, via, practice, everything = false }: Question) {
  const query = { ...practice, lens, body, everything, ...(via === undefined ? {} : { via }) };
  return queryOptions({
    queryKey: ["match", query],
    queryFn: async ({ signal }) => unwrap(await client.GET("/api/v1/match", { params: { query }, signal })),
    retry: patient,
  });
}

/** What the pair may come to where a flange focal distance is not known. */
export function distanceQuery({ lens, body, practice }: Question) {
  const query = { ...practice, lens, body };
  return queryOptions({
    queryKey: ["distance", query],
    queryFn: async ({ signal }) =>
      unwrap(await client.GET("/api/v1/match/distance", { params: { query }, signal })),
    retry: patient,
  });
}

export function workingQuery({ lens, body, via, practice }: Question) {
  const query = { ...practice, lens, body, via: via ?? "" };
  return queryOptions({
    queryKey: ["working", query],
    queryFn: async ({ signal }) =>
      unwrap(await client.GET("/api/v1/match/working", { params: { query }, signal })),
    placeholderData: keepPreviousData,
    retry: patient,
  });
}

export function fitsQuery(end: { lens: string } | { body: string }, practice: Practice) {
  const query = { ...practice, ...end };
  return queryOptions({
    queryKey: ["fits", query],
    queryFn: async ({ signal }) => unwrap(await client.GET("/api/v1/fits", { params: { query }, signal })),
    retry: patient,
  });
}

/** What is told of the route that is looked at alone: its functions and steps. */
export function detailsQuery({ lens, body, via, practice }: Question) {
  const query = { ...practice, lens, body, via: via ?? "" };
  return queryOptions({
    queryKey: ["details", query],
    queryFn: async ({ signal }) =>
      unwrap(await client.GET("/api/v1/match/details", { params: { query }, signal })),
    retry: patient,
  });
}

/** The pieces of a picker: those nearest to what is typed. */
export function pickerQuery(kind: "lenses" | "bodies", q: string) {
  const query = { q, limit: 30, sort: "nearest", brief: true } as const;
  return queryOptions({
    queryKey: ["kit", "find", kind, query],
    queryFn: async ({ signal }) =>
      unwrap(await client.GET("/api/v1/kit/{kind}/find", { params: { path: { kind }, query }, signal })),
    placeholderData: keepPreviousData,
    retry: patient,
  });
}

export interface CardOf {
  lens: string;
  body: string;
  adapters: string;
  day: string;
}

/** What is ticked off of a rig on one day. */
export function cardQuery(query: CardOf) {
  return queryOptions({
    queryKey: ["cards", query],
    queryFn: async ({ signal }) => unwrap(await client.GET("/api/v1/cards", { params: { query }, signal })),
    retry: patient,
  });
}

export function jointQuery(query: { after: string; before: string; q: string; anything: boolean }) {
  return queryOptions({
    queryKey: ["joint", query],
    queryFn: async ({ signal }) => unwrap(await client.GET("/api/v1/joints", { params: { query }, signal })),
    placeholderData: keepPreviousData,
    retry: patient,
  });
}

export function mountsQuery(practice: Practice) {
  return queryOptions({
    queryKey: ["mounts", practice],
    queryFn: async ({ signal }) =>
      unwrap(await client.GET("/api/v1/mounts", { params: { query: practice }, signal })),
    retry: patient,
  });
}

export function mountQuery(id: string) {
  return queryOptions({
    queryKey: ["mount", id],
    queryFn: async ({ signal }) =>
      unwrap(await client.GET("/api/v1/mounts/{id}", { params: { path: { id } }, signal })),
    retry: patient,
  });
}

export interface KeyQuestion {
  id: string;
  side: "lens" | "body";
  yes: string;
  no: string;
  unknown: string;
}

export function keyQuery({ id, ...query }: KeyQuestion) {
  return queryOptions({
    queryKey: ["key", id, query],
    queryFn: async ({ signal }) =>
      unwrap(await client.GET("/api/v1/mounts/{id}/key", { params: { path: { id }, query }, signal })),
    placeholderData: keepPreviousData,
    retry: patient,
  });
}

export const galleryQuery = queryOptions({
  queryKey: ["gallery"],
  queryFn: async () => unwrap(await client.GET("/api/v1/gallery")),
  retry: patient,
});

export function labelQuery(text: string, practice: Practice) {
  const query = { ...practice, text };
  return queryOptions({
    queryKey: ["label", query],
    queryFn: async ({ signal }) => unwrap(await client.GET("/api/v1/label", { params: { query }, signal })),
    retry: patient,
  });
}

export type ShelfKind =
  | "lenses"
  | "bodies"
  | "adapters"
  | "accessories"
  | "foils"
  | "pairs"
  | "mounts"
  | "protocols";
export type Kind = ShelfKind | "rigs";

export function shelfQuery(kind: ShelfKind) {
  return queryOptions({
    queryKey: ["kit", "shelf", kind],
    queryFn: async ({ signal }) =>
      unwrap(await client.GET("/api/v1/kit/{kind}", { params: { path: { kind } }, signal })),
    retry: patient,
  });
}

export type Wanted = NonNullable<paths["/api/v1/kit/{kind}/find"]["get"]["parameters"]["query"]>;

export function foundQuery(kind: ShelfKind, query: Wanted) {
  return queryOptions({
    queryKey: ["kit", "find", kind, query],
    queryFn: async ({ signal }) =>
      unwrap(await client.GET("/api/v1/kit/{kind}/find", { params: { path: { kind }, query }, signal })),
    placeholderData: keepPreviousData,
    retry: patient,
  });
}

export function itemQuery(kind: Kind, id: string) {
  return queryOptions({
    queryKey: ["kit", "item", kind, id],
    queryFn: async ({ signal }) =>
      unwrap(await client.GET("/api/v1/kit/{kind}/items/{id}", { params: { path: { kind, id } }, signal })),
    retry: patient,
  });
}

export function usualQuery(
  kind: "lenses" | "bodies" | "adapters",
  mount: string,
  body_mount: string | undefined,
) {
  return queryOptions({
    queryKey: ["kit", "usual", kind, mount, body_mount],
    queryFn: async ({ signal }) =>
      unwrap(
        await client.GET("/api/v1/kit/{kind}/usual", {
          params: { path: { kind }, query: { mount, ...(body_mount ? { body_mount } : {}) } },
          signal,
        }),
      ),
    retry: patient,
  });
}

export function effectQuery(kind: Kind, item: Record<string, unknown>, practice: Practice) {
  return queryOptions({
    queryKey: ["kit", "effect", kind, item, practice],
    queryFn: async ({ signal }) =>
      unwrap(
        await client.POST("/api/v1/kit/{kind}/effect", {
          params: { path: { kind }, query: practice },
          body: { item },
          signal,
        }),
      ),
    placeholderData: keepPreviousData,
    retry: false,
  });
}

export const historyQuery = queryOptions({
  queryKey: ["kit", "history"],
  queryFn: async ({ signal }) => unwrap(await client.GET("/api/v1/history", { signal })),
  retry: patient,
});

export const rigsQuery = queryOptions({
  queryKey: ["kit", "rigs"],
  queryFn: async ({ signal }) => unwrap(await client.GET("/api/v1/rigs", { signal })),
  retry: patient,
});

export function evidenceQuery(ids: readonly string[]) {
  return queryOptions({
    queryKey: ["kit", "evidence", ids],
    queryFn: async ({ signal }) =>
      unwrap(await client.GET("/api/v1/evidence", { params: { query: { ids: ids.join(",") } }, signal })),
    retry: patient,
  });
}

export const gearSchemaQuery = queryOptions({
  queryKey: ["schema"],
  queryFn: async ({ signal }) => unwrap(await client.GET("/api/v1/schema", { signal })),
  staleTime: Infinity,
  retry: patient,
});

export function lensReadQuery(text: string) {
  return queryOptions({
    queryKey: ["lens-read", text],
    queryFn: async ({ signal }) =>
      unwrap(await client.GET("/api/v1/lens-read", { params: { query: { text } }, signal })),
    retry: patient,
  });
}

/** What lines of lenses say; nothing is kept. */
export function lensLinesQuery(text: string) {
  return queryOptions({
    queryKey: ["lens-lines", text],
    queryFn: async ({ signal }) =>
      unwrap(await client.POST("/api/v1/begin/lenses/read", { body: { text }, signal })),
    retry: patient,
  });
}

type SeenLens = Omit<operations["get_would_fit"]["parameters"]["query"], keyof Practice>;

export function wouldFitQuery(seen: SeenLens, practice: Practice) {
  const query = { ...practice, ...seen };
  return queryOptions({
    queryKey: ["would-fit", query],
    queryFn: async ({ signal }) =>
      unwrap(await client.GET("/api/v1/would-fit", { params: { query }, signal })),
    retry: patient,
  });
}

type SeenMount = operations["get_mount_candidates"]["parameters"]["query"];

export function mountCandidatesQuery(query: SeenMount) {
  return queryOptions({
    queryKey: ["mount-candidates", query],
    queryFn: async ({ signal }) =>
      unwrap(await client.GET("/api/v1/mount-candidates", { params: { query }, signal })),
    retry: patient,
  });
}

export type FrameQuery = operations["get_frame"]["parameters"]["query"];

/** The numbers of a frame. */
export function frameQuery(query: FrameQuery) {
  return queryOptions({
    queryKey: ["frame", query],
    // The client widens pairs of numbers to lists.
    queryFn: async ({ signal }) =>
      unwrap(await client.GET("/api/v1/frame", { params: { query }, signal })) as FrameReport,
    placeholderData: keepPreviousData,
    retry: patient,
  });
}

export type BodiesQuery = operations["get_lens_becomes"]["parameters"]["query"];
export type LensesQuery = NonNullable<operations["get_body_becomes"]["parameters"]["query"]>;
export type WishQuery = operations["get_wish"]["parameters"]["query"];
export type RigQuery = operations["get_rig_becomes"]["parameters"]["query"];
export type CloserQuery = operations["get_closer"]["parameters"]["query"];
export type BesideQuery = operations["get_beside"]["parameters"]["query"];

/** One lens over all bodies and modes. */
export function bodiesQuery(query: BodiesQuery) {
  return queryOptions({
    queryKey: ["becomes", "bodies", query],
    queryFn: async ({ signal }) =>
      unwrap(await client.GET("/api/v1/becomes/lens", { params: { query }, signal })) as Becomings,
    placeholderData: keepPreviousData,
    retry: patient,
  });
}

/** Lenses over one body, and what they come to as a set. */
export function lensesQuery(query: LensesQuery) {
  return queryOptions({
    queryKey: ["becomes", "lenses", query],
    queryFn: async ({ signal }) =>
      // The client widens pairs of names to lists.
      unwrap(await client.GET("/api/v1/becomes/body", { params: { query }, signal })) as Becomings,
    placeholderData: keepPreviousData,
    retry: patient,
  });
}

/** What gives a view that is wanted. */
export function wishQuery(query: WishQuery) {
  return queryOptions({
    queryKey: ["becomes", "wish", query],
    queryFn: async ({ signal }) =>
      unwrap(await client.GET("/api/v1/becomes/wish", { params: { query }, signal })),
    placeholderData: keepPreviousData,
    retry: patient,
  });
}

/** One rig at every marked setting, and the mistakes that it invites. */
export function rigBecomesQuery(query: RigQuery) {
  return queryOptions({
    queryKey: ["becomes", "rig", query],
    queryFn: async ({ signal }) =>
      unwrap(await client.GET("/api/v1/becomes/rig", { params: { query }, signal })),
    placeholderData: keepPreviousData,
    retry: patient,
  });
}

/** What focuses nearer than a rig. */
export function closerQuery(query: CloserQuery) {
  return queryOptions({
    queryKey: ["becomes", "closer", query],
    queryFn: async ({ signal }) =>
      unwrap(await client.GET("/api/v1/becomes/closer", { params: { query }, signal })),
    placeholderData: keepPreviousData,
    retry: patient,
  });
}

/** Two rigs at one framing. */
export function besideQuery(query: BesideQuery) {
  return queryOptions({
    queryKey: ["becomes", "beside", query],
    queryFn: async ({ signal }) =>
      unwrap(await client.GET("/api/v1/becomes/beside", { params: { query }, signal })),
    placeholderData: keepPreviousData,
    retry: patient,
  });
}

export type SetUpQuery = operations["get_setup"]["parameters"]["query"];

/** A rig as it goes out of the door. */
export function setUpQuery(query: SetUpQuery) {
  return queryOptions({
    queryKey: ["setup", query],
    queryFn: async ({ signal }) => unwrap(await client.GET("/api/v1/setup", { params: { query }, signal })),
    placeholderData: keepPreviousData,
    retry: patient,
  });
}

export type CameraQuery = NonNullable<paths["/api/v1/camera"]["get"]["parameters"]["query"]>;

/** How the camera of a body stands, beside the card of a rig. */
export function cameraQuery(query: CameraQuery) {
  return queryOptions({
    queryKey: ["camera", query],
    queryFn: async ({ signal }) => unwrap(await client.GET("/api/v1/camera", { params: { query }, signal })),
    // Somebody else may be at the camera too.
    staleTime: 0,
    retry: patient,
  });
}

export type StoredQuery = NonNullable<paths["/api/v1/stored"]["get"]["parameters"]["query"]>;

/** The places of a body, and what its rigs want stored. */
export function storedQuery(query: StoredQuery) {
  return queryOptions({
    queryKey: ["stored", query],
    queryFn: async ({ signal }) => unwrap(await client.GET("/api/v1/stored", { params: { query }, signal })),
    retry: patient,
  });
}

export interface RigOf {
  lens: string;
  body: string;
  via: string;
}

/** The corners of a rig that were looked at. */
export function cornersQuery(query: RigOf) {
  return queryOptions({
    queryKey: ["corners", query],
    queryFn: async ({ signal }) => unwrap(await client.GET("/api/v1/corners", { params: { query }, signal })),
    retry: patient,
  });
}

export const outingsQuery = queryOptions({
  queryKey: ["outings"],
  queryFn: async () => unwrap(await client.GET("/api/v1/outings")),
  retry: patient,
});

/** An outing, and what it comes to today. */
export function outingQuery(id: string) {
  return queryOptions({
    queryKey: ["outings", id],
    queryFn: async ({ signal }) =>
      unwrap(await client.GET("/api/v1/outings/{id}", { params: { path: { id } }, signal })),
    retry: patient,
  });
}

/** Which profiles a lens may be marked for. */
export function nearestProfilesQuery(lens: string, mount: string, via: string) {
  const query = { lens, mount, via };
  return queryOptions({
    queryKey: ["code", "nearest", query],
    queryFn: async ({ signal }) =>
      unwrap(await client.GET("/api/v1/code/nearest", { params: { query }, signal })),
    retry: patient,
  });
}

/** What stands on a flange. */
export function codeReadQuery(mount: string, digits: string) {
  const query = { mount, digits };
  return queryOptions({
    queryKey: ["code", "read", query],
    queryFn: async ({ signal }) =>
      unwrap(await client.GET("/api/v1/code/read", { params: { query }, signal })),
    retry: patient,
  });
}
