import { keepPreviousData, queryOptions } from "@tanstack/react-query";

import { client, type Practice, ProblemError, unwrap } from "./client";

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

export function workingQuery({ lens, body, via, practice }: Question) {
  const query = { ...practice, lens, body, via: via ?? "" };
  return queryOptions({
    queryKey: ["working", query],
    queryFn: async ({ signal }) => unwrap(await client.GET("/api/v1/match/working", { params: { query }, signal })),
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

export function searchQuery(kind: "lens" | "body", q: string) {
  return queryOptions({
    queryKey: ["search", kind, q],
    queryFn: async ({ signal }) =>
      unwrap(await client.GET("/api/v1/search/{kind}", { params: { path: { kind }, query: { q, limit: 30 } }, signal })),
    placeholderData: keepPreviousData,
    retry: patient,
  });
}

export function itemQuery(kind: "lens" | "body", id: string) {
  return queryOptions({
    queryKey: ["item", kind, id],
    queryFn: async ({ signal }) =>
      unwrap(await client.GET("/api/v1/items/{kind}/{id}", { params: { path: { kind, id } }, signal })),
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
    queryFn: async ({ signal }) => unwrap(await client.GET("/api/v1/mounts", { params: { query: practice }, signal })),
    retry: patient,
  });
}

export function mountQuery(id: string) {
  return queryOptions({
    queryKey: ["mount", id],
    queryFn: async ({ signal }) => unwrap(await client.GET("/api/v1/mounts/{id}", { params: { path: { id } }, signal })),
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
