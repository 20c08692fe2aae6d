import type { Help } from "../../../app/screen";
import { VIEWS } from "../viewNames";

const KEYS = [
  ["L", "pick a lens"],
  ["B", "pick a body"],
  ["↑ ↓", "in a table: the row above and below"],
  ...VIEWS.map(({ key, name }) => [key.toUpperCase(), name] as const),
  ["D", "dark or light"],
  ["?", "these keys"],
] as const;

/** The keys of a table, and how its drawings are read. */
export const tableHelp = (title: string): Help => ({
  title: `${title}: keys, and how to read it`,
  keys: KEYS,
  children: (
    <>
      <p>
        The frames all lie over one scene, seen from one place: what is inside a frame is in that picture. The dashed
        frame is what it is compared with.
      </p>
      <p>
        In the chart the wide views are at the left and the fast lenses above. Where it is hatched, no lens has a view.
        A dashed line leads from what is engraved to what becomes of it.
      </p>
    </>
  ),
});
