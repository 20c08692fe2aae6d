import { keepPreviousData, type Query } from "@tanstack/react-query";

import { api, type Becomings, type FrameReport, type GalleryEntry, type MatchReport, type Practice } from "./client";
import type { paths } from "./schema";

/** While another answer is on its way the last one stays. */
export const STEADY = { placeholderData: keepPreviousData } as const;

type QueryOf<Path extends keyof paths> = paths[Path] extends {
  get: { parameters: { query?: infer Asked } };
}
  ? NonNullable<Asked>
  : never;

/** Chooses the queries of one or more resources, as paths below /api/v1. */
export const about =
  (...resources: string[]) =>
  ({ queryKey }: Pick<Query, "queryKey">) =>
    resources.some((resource) => String(queryKey[1]).startsWith(`/api/v1/${resource}`));

/** What the kit's rooms show. */
export const ABOUT_KIT = about("kit", "history", "rigs", "evidence");

// The client widens pairs to lists.
const AS_PAIR = { select: (report: unknown) => report as MatchReport };

export const startQuery = api.queryOptions("get", "/api/v1/start");
const AS_GALLERY = { select: ({ entries }: { entries: unknown }) => entries as GalleryEntry[] };
export const galleryQuery = api.queryOptions("get", "/api/v1/gallery", undefined, AS_GALLERY);
export const historyQuery = api.queryOptions("get", "/api/v1/history");
export const rigsQuery = api.queryOptions("get", "/api/v1/rigs");
export const outingsQuery = api.queryOptions("get", "/api/v1/outings");
export const gearSchemaQuery = api.queryOptions("get", "/api/v1/schema", undefined, { staleTime: Infinity });

export interface Question {
  lens: string;
  body: string;
  via?: string;
  practice: Practice;
  /** With the routes that another beats in everything. */
  everything?: boolean;
}

/** The routes of a pair, and the first in full; with `via` that one chain. */
export const matchQuery = (query: Question) => api.queryOptions("get", "/api/v1/match", { params: { query } }, AS_PAIR);

/** What the pair may come to where a flange focal distance is not known. */
export const distanceQuery = ({ lens, body, practice }: Question) =>
  api.queryOptions("get", "/api/v1/match/distance", { params: { query: { practice, lens, body } } });

export const workingQuery = ({ via = "", ...asked }: Question) =>
  api.queryOptions("get", "/api/v1/match/working", { params: { query: { ...asked, via } } }, STEADY);

export const fitsQuery = (end: { lens: string } | { body: string }, practice: Practice) =>
  api.queryOptions("get", "/api/v1/fits", { params: { query: { practice, ...end } } });

export type CardOf = Required<QueryOf<"/api/v1/cards">>;

/** What is ticked off of a rig on one day. */
export const cardQuery = (query: CardOf) => api.queryOptions("get", "/api/v1/cards", { params: { query } });

export const jointQuery = (query: QueryOf<"/api/v1/joints">) =>
  api.queryOptions("get", "/api/v1/joints", { params: { query } }, STEADY);

export const mountsQuery = (practice: Practice) =>
  api.queryOptions("get", "/api/v1/mounts", { params: { query: { practice } } });

export const mountQuery = (id: string) => api.queryOptions("get", "/api/v1/mounts/{id}", { params: { path: { id } } });

export interface KeyQuestion {
  id: string;
  side: "lens" | "body";
  yes: string;
  no: string;
  unknown: string;
}

export const keyQuery = ({ id, ...query }: KeyQuestion) =>
  api.queryOptions("get", "/api/v1/mounts/{id}/key", { params: { path: { id }, query } }, STEADY);

export const labelQuery = (text: string, practice: Practice) =>
  api.queryOptions("get", "/api/v1/label", { params: { query: { practice, text } } });

export type ShelfKind = paths["/api/v1/kit/{kind}"]["get"]["parameters"]["path"]["kind"];
export type Kind = ShelfKind | "rigs";
export type Wanted = QueryOf<"/api/v1/kit/{kind}/find">;

export const shelfQuery = (kind: ShelfKind) =>
  api.queryOptions("get", "/api/v1/kit/{kind}", { params: { path: { kind } } });

export const foundQuery = (kind: ShelfKind, query: Wanted) =>
  api.queryOptions("get", "/api/v1/kit/{kind}/find", { params: { path: { kind }, query } }, STEADY);

/** The pieces of a picker: those nearest to what is typed. */
export const pickerQuery = (kind: "lenses" | "bodies", q: string) =>
  foundQuery(kind, { q, limit: 30, sort: "nearest", brief: true });

export const itemQuery = (kind: Kind, id: string) =>
  api.queryOptions("get", "/api/v1/kit/{kind}/items/{id}", { params: { path: { kind, id } } });

export const usualQuery = (kind: "lenses" | "bodies" | "adapters", mount: string, body_mount?: string) =>
  api.queryOptions("get", "/api/v1/kit/{kind}/usual", {
    params: { path: { kind }, query: { mount, ...(body_mount ? { body_mount } : {}) } },
  });

export const effectQuery = (kind: Kind, item: Record<string, unknown>, practice: Practice) =>
  api.queryOptions(
    "post",
    "/api/v1/kit/{kind}/effect",
    { params: { path: { kind }, query: { practice } }, body: { item } },
    { ...STEADY, retry: false },
  );

export const evidenceQuery = (ids: readonly string[]) =>
  api.queryOptions("get", "/api/v1/evidence", { params: { query: { ids: ids.join(",") } } });

export const lensReadQuery = (text: string) =>
  api.queryOptions("get", "/api/v1/lens-read", { params: { query: { text } } });

/** What lines of lenses say; nothing is kept. */
export const lensLinesQuery = (text: string) =>
  api.queryOptions("post", "/api/v1/begin/lenses/read", { body: { text } });

export const wouldFitQuery = (query: QueryOf<"/api/v1/would-fit">) =>
  api.queryOptions("get", "/api/v1/would-fit", { params: { query } });

export const mountCandidatesQuery = (query: QueryOf<"/api/v1/mount-candidates">) =>
  api.queryOptions("get", "/api/v1/mount-candidates", { params: { query } });

export type FrameQuery = QueryOf<"/api/v1/frame">;
export type BodiesQuery = QueryOf<"/api/v1/becomes/lens">;
export type LensesQuery = QueryOf<"/api/v1/becomes/body">;
export type WishQuery = QueryOf<"/api/v1/becomes/wish">;
export type RigQuery = QueryOf<"/api/v1/becomes/rig">;
export type CloserQuery = QueryOf<"/api/v1/becomes/closer">;
export type BesideQuery = QueryOf<"/api/v1/becomes/beside">;

const AS_FRAME = { ...STEADY, select: (report: unknown) => report as FrameReport };
const AS_TABLE = { ...STEADY, select: (table: unknown) => table as Becomings };

/** The numbers of a frame. */
export const frameQuery = (query: FrameQuery) =>
  api.queryOptions("get", "/api/v1/frame", { params: { query } }, AS_FRAME);

/** One lens over all bodies and modes. */
export const bodiesQuery = (query: BodiesQuery) =>
  api.queryOptions("get", "/api/v1/becomes/lens", { params: { query } }, AS_TABLE);

/** Lenses over one body, and what they come to as a set. */
export const lensesQuery = (query: LensesQuery) =>
  api.queryOptions("get", "/api/v1/becomes/body", { params: { query } }, AS_TABLE);

/** What gives a view that is wanted. */
export const wishQuery = (query: WishQuery) =>
  api.queryOptions("get", "/api/v1/becomes/wish", { params: { query } }, STEADY);

/** One rig at every marked setting, and the mistakes that it invites. */
export const rigBecomesQuery = (query: RigQuery) =>
  api.queryOptions("get", "/api/v1/becomes/rig", { params: { query } }, STEADY);

/** What focuses nearer than a rig. */
export const closerQuery = (query: CloserQuery) =>
  api.queryOptions("get", "/api/v1/becomes/closer", { params: { query } }, STEADY);

/** Two rigs at one framing. */
export const besideQuery = (query: BesideQuery) =>
  api.queryOptions("get", "/api/v1/becomes/beside", { params: { query } }, STEADY);

export type SetUpQuery = QueryOf<"/api/v1/setup">;

/** The set-up of a rig. */
export const setUpQuery = (query: SetUpQuery) =>
  api.queryOptions("get", "/api/v1/setup", { params: { query } }, STEADY);

export type CameraQuery = QueryOf<"/api/v1/camera">;

/** How the camera of a body stands, beside the card of a rig: somebody else may be at it too. */
export const cameraQuery = (query: CameraQuery) =>
  api.queryOptions("get", "/api/v1/camera", { params: { query } }, { staleTime: 0 });

export type StoredQuery = QueryOf<"/api/v1/stored">;

/** The places of a body, and what its rigs want stored. */
export const storedQuery = (query: StoredQuery) => api.queryOptions("get", "/api/v1/stored", { params: { query } });

export interface RigOf {
  lens: string;
  body: string;
  via: string;
}

/** The corners of a rig that were looked at. */
export const cornersQuery = (query: RigOf) => api.queryOptions("get", "/api/v1/corners", { params: { query } });

/** An outing, and what it comes to today. */
export const outingQuery = (id: string) =>
  api.queryOptions("get", "/api/v1/outings/{id}", { params: { path: { id } } });

/** Which profiles a lens may be marked for. */
export const nearestProfilesQuery = (lens: string, mount: string, via: string) =>
  api.queryOptions("get", "/api/v1/code/nearest", { params: { query: { lens, mount, via } } });

/** What stands on a flange. */
export const codeReadQuery = (mount: string, digits: string) =>
  api.queryOptions("get", "/api/v1/code/read", { params: { query: { mount, digits } } });
