import { api, type Practice } from "./client";
import { STEADY } from "./queries";
import type { components, FiltersAsked, GridChange } from "./schema";

export type * from "./schema";
/** As it comes over the line: a tuple is a list. */
export type Sent<T> = T extends readonly (infer One)[]
  ? Sent<One>[]
  : T extends object
    ? { [Key in keyof T]: Sent<T[Key]> }
    : T;

export type GridPage = Sent<components["schemas"]["GridPage"]>;
export type GridReport = GridPage["report"];
export type GridCell = GridReport["cells"][number];
export type GridEnds = GridReport["lenses"][number];
export type GridDifference = Sent<components["schemas"]["GridDifference"]>;
export type PlanQuestion = Sent<components["schemas"]["PlanQuestion"]>;
export type Demand = PlanQuestion["demands"][number];
export type PlanPage = Sent<components["schemas"]["PlanPage"]>;
export type PlanWork = Sent<components["schemas"]["PlanWork"]>;
export type PlanAnswer = Sent<components["schemas"]["PlanAnswer"]>;
export type PlanReport = PlanAnswer["report"];
export type Curve = NonNullable<PlanAnswer["curve"]>;
export type ShopLine = PlanAnswer["shop"][number];
export type OptionsFor = Sent<components["schemas"]["OptionsFor"]>;
export type AdaptOrNative = Sent<components["schemas"]["AdaptOrNative"]>;
export type FiltersPage = Sent<components["schemas"]["FiltersPage"]>;

export const gridQuery = (practice: Practice) =>
  api.queryOptions("get", "/api/v1/grid", { params: { query: { practice } } }, STEADY);

/** Why a lens comes to what it does on a body; without one, on the body at hand that it works best on. */
export const whyQuery = (lens: string, body: string, practice: Practice) =>
  api.queryOptions("get", "/api/v1/grid/why", { params: { query: { practice, lens, ...(body && { body }) } } }, STEADY);

export const gridChangeQuery = (changes: GridChange[], practice: Practice) =>
  api.queryOptions("post", "/api/v1/grid/change", { body: { changes, practice } }, STEADY);

export const gridCompareQuery = (one: Practice, other: Practice) =>
  api.queryOptions("post", "/api/v1/grid/compare", { body: { one, other } });

export const twoBodiesQuery = (one: string, other: string, practice: Practice) =>
  api.queryOptions("get", "/api/v1/grid/bodies", { params: { query: { practice, one, other } } });

export const plansQuery = (practice: Practice) =>
  api.queryOptions("get", "/api/v1/plans", { params: { query: { practice } } });

export const planQuery = (id: string, practice: Practice) =>
  api.queryOptions("get", "/api/v1/plans/{id}", { params: { path: { id }, query: { practice } } });

/** How far a plan has come; asked again until it is made. */
export const workQuery = (id: string) =>
  api.queryOptions(
    "get",
    "/api/v1/plans/work/{id}",
    { params: { path: { id } } },
    {
      enabled: id !== "",
      refetchInterval: ({ state }) => (state.data?.state === "working" || !state.data ? 250 : false),
    },
  );

export const optionsQuery = (question: PlanQuestion, body: string, practice: Practice) =>
  api.queryOptions(
    "post",
    "/api/v1/buying/options",
    { body: { question, body, practice } },
    { enabled: question.demands.length > 0 && body !== "" },
  );

export const variantsQuery = (lens: string, body: string, practice: Practice) =>
  api.queryOptions(
    "get",
    "/api/v1/buying/variants",
    { params: { query: { practice, lens, body } } },
    { enabled: lens !== "" && body !== "" },
  );

export const filtersQuery = (asked: FiltersAsked) =>
  api.queryOptions(
    "post",
    "/api/v1/buying/filters",
    { body: asked },
    { ...STEADY, enabled: asked.lenses.length > 0 && asked.body !== "" },
  );
