import { client, type ItemPage, unwrap } from "./client";
import type { Kind } from "./queries";

type Item = Record<string, unknown>;

export const readItem = async (kind: Kind, id: string): Promise<ItemPage> =>
  unwrap(await client.GET("/api/v1/kit/{kind}/items/{id}", { params: { path: { kind, id } } }));

/** Puts a new item on its shelf. */
export const addItem = async (kind: Kind, item: Item): Promise<ItemPage> =>
  unwrap(await client.POST("/api/v1/kit/{kind}/items", { params: { path: { kind } }, body: { item } }));

/** Writes an item upon the version that was read. */
export const putItem = async (kind: Kind, id: string, item: Item, version: number): Promise<ItemPage> =>
  unwrap(
    await client.PUT("/api/v1/kit/{kind}/items/{id}", { params: { path: { kind, id } }, body: { item, version } }),
  );
