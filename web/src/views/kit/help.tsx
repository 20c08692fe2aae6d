import type { Help } from "../../app/screen";

const KEYS = [
  ["↑ ↓", "the item before, the next"],
  ["F", "search this shelf"],
  ["N", "a new item"],
  ["C", "copy the open item as new"],
  ["X", "select the open item"],
  ["Ctrl S", "save what is written"],
  ["Ctrl Z", "undo; with Shift, redo"],
  ["1 to 9", "the shelves"],
  ["/", "would it fit: a lens or a label"],
  ["L", "the light path"],
  ["D", "dark or light"],
  ["Esc", "close the item"],
] as const;

/** What the keys do, and how to read the shelves. */
export const HELP: Help = {
  title: "The kit",
  keys: KEYS,
  children: (
    <>
      <p>
        Silhouettes of one shelf are drawn at one scale, each from its own measures, dashed where a measure is unknown.
        Seats of lenses and adapters stand on one line.
      </p>
      <p>
        A value is stated, assumed or measured, and says so. What was measured counts; what was nominal stays beside it.
      </p>
    </>
  ),
};
