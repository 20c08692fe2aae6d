import type { Help } from "../../app/screen";

export const HELP: Help = {
  title: "Keys, and how to read the set-up",
  keys: [
    ["L", "pick a lens"],
    ["B", "pick a body"],
    ["C", "the card"],
    ["R", "rehearse it on a camera"],
    ["S", "stored lenses of the body"],
    ["G", "the light path"],
    ["D", "dark or light"],
    ["?", "these keys"],
  ],
  children: (
    <>
      <p>
        The rig stands on what holds it. The disc in quarters is where the whole balances; the bar from there to the
        support is the arm by which it tips.
      </p>
      <p>
        Under each joint stands its load, in newton metres. Filled to the thick line is its rated load; beyond, the lens
        wants a support of its own.
      </p>
    </>
  ),
};
