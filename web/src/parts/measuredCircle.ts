import { client, type Sighted, unwrap } from "../api/client";

/** Writes a circle that was seen to its lens, as measured, with its doubt; undone like all else. */
export async function keepCircle(lens: string, seen: Sighted): Promise<void> {
  if (seen.image_circle_mm === null) return;
  const path = { kind: "lenses", id: lens } as const;
  const page = unwrap(await client.GET("/api/v1/kit/{kind}/items/{id}", { params: { path } }));
  const item = {
    ...page.item,
    image_circle_mm: seen.image_circle_mm,
    image_circle_from: "measured",
    image_circle_tolerance_mm: seen.tolerance_mm,
  };
  unwrap(
    await client.PUT("/api/v1/kit/{kind}/items/{id}", {
      params: { path },
      body: { item, version: page.version },
    }),
  );
}
