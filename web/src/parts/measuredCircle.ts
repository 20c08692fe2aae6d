import { readItem, putItem } from "../api/items";
import type { Sighted } from "../api/client";

/** Writes a circle that was seen to its lens, as measured, with its doubt; undone like all else. */
export async function keepCircle(lens: string, seen: Pick<Sighted, "image_circle_mm" | "tolerance_mm">): Promise<void> {
  if (seen.image_circle_mm === null) return;
  const page = await readItem("lenses", lens);
  const item = {
    ...page.item,
    image_circle_mm: seen.image_circle_mm,
    image_circle_from: "measured",
    image_circle_tolerance_mm: seen.tolerance_mm,
  };
  await putItem("lenses", lens, item, page.version);
}
