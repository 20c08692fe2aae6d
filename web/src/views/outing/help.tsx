import type { Help } from "../../app/screen";

export const HELP: Help = {
  title: "Keys, and how to read the outing",
  keys: [
    ["O", "take the order that swaps least"],
    ["D", "dark or light"],
    ["Ctrl Z", "undo; with Shift, redo"],
    ["?", "these keys"],
  ],
  children: (
    <>
      <p>
        Each body has a lane, each shot a column. What stands on a body is drawn where it stands, to one scale; the
        framed one takes the shot. A number on the line before a column is how often something is put on there.
      </p>
      <p>A ring that no other lens wants stays on its lens, and goes on and off with it in one swap.</p>
    </>
  ),
};
