import { hashKey, useMutation, useQueryClient } from "@tanstack/react-query";
import { useMemo, useState } from "react";

import { client, type ItemPage, ProblemError, unwrap } from "../../api/client";
import { addItem, putItem } from "../../api/items";
import { about, itemQuery, type Kind } from "../../api/queries";
import { type Fields, same, trimmed } from "../../parts/fields";
import { type Draft, useDraft } from "./useDraft";

interface Of {
  kind: Kind;
  /** An id; "new" for one that is to be added. */
  id: string;
  /** What a new item begins with. */
  begin: Fields;
  page: ItemPage | null;
  onOpen: (id: string | null, begin?: Fields) => void;
  /** A new item was kept; true where somebody else goes on from there. */
  onKept: (name: string) => boolean;
}

/** The item with the mounts that it is to be given besides its own, or with the one that was made for it. */
function withMounts(item: Fields, begin: Fields): Fields {
  if (begin.mount !== undefined) return { ...item, mount: begin.mount, conversion: "home" };
  const wanted = (begin.swappable_mounts ?? []) as { mount: string }[];
  const has = (item.swappable_mounts ?? []) as { mount: string }[];
  const more = wanted.filter(({ mount }) => has.every((one) => one.mount !== mount));
  return more.length === 0 ? item : { ...item, swappable_mounts: [...has, ...more] };
}

const empty = (value: unknown) => value === null || value === undefined || value === "";

const assumedOf = (item: Fields) => new Set((item.assumed as string[] | undefined) ?? []);

/** One item as it is written: the draft, and what can be done with it. */
export function useItem({ kind, id, begin, page, onOpen, onKept }: Of) {
  const queries = useQueryClient();
  const isNew = page === null;
  // Copies, labels and plain new items are drafts of their own.
  const [kept, keep] = useDraft(isNew ? `${kind} new ${JSON.stringify(begin)}` : `${kind} ${id}`);
  const stands = useMemo<Draft>(
    () => ({ item: page?.item ?? begin, base: page?.item ?? null, version: page?.version ?? 0 }),
    [page, begin],
  );
  // A mount that it could be given is filled in; it is saved like any other change.
  const given = useMemo<Draft>(
    () => (page === null ? stands : { ...stands, item: withMounts(stands.item, begin) }),
    [page, stands, begin],
  );
  const draft = kept ?? given;
  const { item } = draft;
  // Another window saved it since the draft was begun.
  const [refused, setRefused] = useState<ProblemError | null>(null);
  const write = (next: Fields, assumed: ReadonlySet<string>) => {
    const fields = Object.entries(next).filter(([key, value]) => key !== "assumed" && !empty(value));
    const doubted = [...assumed].filter((key) => fields.some(([field]) => field === key));
    const held = Object.fromEntries(fields);
    keep({ ...draft, item: doubted.length ? { ...held, assumed: doubted } : held });
  };
  const set = (key: string, value: unknown, assumed = false) => {
    const doubted = assumedOf(item);
    if (assumed) doubted.add(key);
    else doubted.delete(key);
    write({ ...item, [key]: value }, doubted);
  };
  const take = (values: Fields, assumed: readonly string[]) => {
    write({ ...item, ...values }, new Set([...assumedOf(item), ...assumed]));
  };
  const save = useMutation({
    mutationFn: ({ fields, version }: { fields: Fields; version: number }) => {
      const body = trimmed(fields);
      return version === 0 ? addItem(kind, body) : putItem(kind, id, body, version);
    },
    onSuccess: async (next) => {
      keep(null);
      setRefused(null);
      queries.setQueryData(itemQuery(kind, next.id).queryKey, next);
      // The item just written is known: it is the rest that has to be asked for again.
      await queries.invalidateQueries({
        predicate: (query) => !about("schema")(query) && query.queryHash !== hashKey(itemQuery(kind, next.id).queryKey),
      });
      const { name } = next.item;
      const led = isNew || Object.keys(begin).length > 0;
      if (led && !onKept(typeof name === "string" ? name : next.id) && isNew) onOpen(next.id);
    },
    onError: (error) => {
      if (error instanceof ProblemError && error.problem.type === "stale") setRefused(error);
    },
  });
  const changed = isNew ? Object.keys(trimmed(item)).length > 0 : !same(trimmed(item), stands.item);
  return {
    isNew,
    draft,
    item,
    changed,
    unsaved: kept !== null,
    stale: kept !== null && page !== null && kept.version !== page.version,
    refused,
    doubted: assumedOf(item),
    set,
    take,
    save,
    submit: () => {
      if (changed && !save.isPending) save.mutate({ fields: item, version: draft.version });
    },
    drop: () => {
      keep(null);
      setRefused(null);
      save.reset();
    },
    /** What somebody else wrote is asked for again. */
    reload: () => {
      void queries.invalidateQueries();
    },
  };
}

export type Item = ReturnType<typeof useItem>;

/** Retiring, bringing back, and taking out. */
export function useLeaving({ kind, id, page, onOpen }: Omit<Of, "begin" | "onKept">, onGone: () => void) {
  const queries = useQueryClient();
  const retire = useMutation({
    mutationFn: async (retired: boolean) => {
      if (kind === "rigs") throw new Error("a rig is removed, not retired");
      const body = { ids: [id], retired };
      return unwrap(await client.POST("/api/v1/kit/{kind}/retire", { params: { path: { kind } }, body }));
    },
    onSuccess: async () => {
      await queries.invalidateQueries();
    },
  });
  const remove = useMutation({
    mutationFn: async () => {
      const params = { path: { kind, id }, query: { version: page?.version ?? 1 } };
      return unwrap(await client.DELETE("/api/v1/kit/{kind}/items/{id}", { params }));
    },
    onSuccess: async () => {
      onGone();
      onOpen(null);
      await queries.invalidateQueries();
    },
  });
  const inUse =
    remove.error instanceof ProblemError && remove.error.problem.type === "in_use" ? remove.error.problem : null;
  return { retire, remove, inUse };
}
