import { keepPreviousData, queryOptions } from "@tanstack/react-query";

import { client, ProblemError, type Practice, unwrap } from "./client";
import type { components } from "./schema";

/** As it comes over the line: a tuple is a list. */
type Sent<T> = T extends readonly (infer One)[]
  ? Sent<One>[]
  : T extends object
    ? { [Key in keyof T]: Sent<T[Key]> }
    : T;

export type GridPage = Sent<components["schemas"]["GridPage"]>;
export type GridReport = GridPage["report"];
export type GridCell = GridReport["cells"][number];
export type GridEnds = GridReport["lenses"][number];
export type GridChange = components["schemas"]["GridChange"];
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
export type FiltersAsked = components["schemas"]["FiltersAsked"];
export type FiltersPage = Sent<components["schemas"]["FiltersPage"]>;

/** A practice of which some preferences are not said. */
type Under = Partial<Practice>;

const patient = (failures: number, error: Error) => !(error instanceof ProblemError) && failures < 2;

export function gridQuery(practice: Under) {
  return queryOptions({
    queryKey: ["grid", practice],
    queryFn: async ({ signal }) =>
      unwrap(await client.GET("/api/v1/grid", { params: { query: practice }, signal })),
    placeholderData: keepPreviousData,
    retry: patient,
  });
}

/** Why a lens comes to what it does on a body; without one, on the body at hand that it works best on. */
export function whyQuery(lens: string, body: string, practice: Under) {
  return queryOptions({
    queryKey: ["grid", "why", lens, body, practice],
    queryFn: async ({ signal }) =>
      unwrap(
        await client.GET("/api/v1/grid/why", {
          params: { query: { ...practice, lens, ...(body === "" ? {} : { body }) } },
          signal,
        }),
      ),
    placeholderData: keepPreviousData,
    retry: patient,
  });
}

export function gridChangeQuery(changes: GridChange[], practice: Practice) {
  return queryOptions({
    queryKey: ["grid", "change", changes, practice],
    queryFn: async ({ signal }) =>
      unwrap(await client.POST("/api/v1/grid/change", { body: { changes, practice }, signal })),
    placeholderData: keepPreviousData,
    retry: patient,
  });
}

export function gridCompareQuery(one: Practice, other: Practice) {
  return queryOptions({
    queryKey: ["grid", "compare", one, other],
    queryFn: async ({ signal }) =>
      unwrap(await client.POST("/api/v1/grid/compare", { body: { one, other }, signal })),
    retry: patient,
  });
}

export function twoBodiesQuery(one: string, other: string, practice: Under) {
  return queryOptions({
    queryKey: ["grid", "bodies", one, other, practice],
    queryFn: async ({ signal }) =>
      unwrap(
        await client.GET("/api/v1/grid/bodies", { params: { query: { ...practice, one, other } }, signal }),
      ),
    retry: patient,
  });
}

export function plansQuery(practice: Under) {
  return queryOptions({
    queryKey: ["plans", practice],
    queryFn: async ({ signal }) =>
      unwrap(await client.GET("/api/v1/plans", { params: { query: practice }, signal })),
    retry: patient,
  });
}

export function planQuery(id: string, practice: Under) {
  return queryOptions({
    queryKey: ["plan", id, practice],
    queryFn: async ({ signal }) =>
      unwrap(await client.GET("/api/v1/plans/{id}", { params: { path: { id }, query: practice }, signal })),
    retry: patient,
  });
}

/** How far a plan has come; asked again until it is made. */
export function workQuery(id: string) {
  return queryOptions({
    queryKey: ["plan", "work", id],
    queryFn: async ({ signal }) =>
      unwrap(await client.GET("/api/v1/plans/work/{id}", { params: { path: { id } }, signal })),
    enabled: id !== "",
    refetchInterval: ({ state }) => (state.data?.state === "working" || !state.data ? 250 : false),
    retry: patient,
  });
}

export function optionsQuery(question: PlanQuestion, body: string, practice: Practice) {
  return queryOptions({
    queryKey: ["buying", "options", question, body, practice],
    queryFn: async ({ signal }) =>
      unwrap(await client.POST("/api/v1/buying/options", { body: { question, body, practice }, signal })),
    enabled: question.demands.length > 0 && body !== "",
    retry: patient,
  });
}

export function variantsQuery(lens: string, body: string, practice: Under) {
  return queryOptions({
    queryKey: ["buying", "variants", lens, body, practice],
    queryFn: async ({ signal }) =>
      unwrap(
        await client.GET("/api/v1/buying/variants", {
          params: { query: { ...practice, lens, body } },
          signal,
        }),
      ),
    enabled: lens !== "" && body !== "",
    retry: patient,
  });
}

export function filtersQuery(asked: FiltersAsked) {
  return queryOptions({
    queryKey: ["buying", "filters", asked],
    queryFn: async ({ signal }) =>
      unwrap(await client.POST("/api/v1/buying/filters", { body: asked, signal })),
    enabled: asked.lenses.length > 0 && asked.body !== "",
    placeholderData: keepPreviousData,
    retry: patient,
  });
}
