import type { Help } from "../../app/screen";

const KEYS = [
  ["L", "pick a lens"],
  ["B", "pick a body"],
  ["↑ ↓", "the better and the lesser route"],
  ["Home", "the best route"],
  ["C", "compare with the best, or leave off comparing"],
  ["U", "show the routes that are no better in anything"],
  ["E", "put a chain together by hand"],
  ["K", "print the card: one A5 side"],
  ["N", "name the parts of the drawing, one by one"],
  ["W", "unfold the flange error"],
  ["/", "would it fit: a lens or a label"],
  ["P", "your preferences"],
  ["F", "the frame: what the sensor would record"],
  ["M", "mounts"],
  ["D", "dark or light"],
  ["?", "these keys"],
  ["Esc", "close what is open"],
] as const;

/** What the keys do, and what the drawing shows. */
export const HELP: Help = {
  title: "Keys, and how to read the drawing",
  keys: KEYS,
  children: (
    <>
      <p>
        The section is cut through the sensor’s diagonal and drawn to scale; glass inside a lens is schematic. Above it
        stands what the lens needs, over what is there. The strip below magnifies the place of the mount face of the
        lens: the line in the middle is where the lens should stand, the curve where it does stand, the bands how far it
        may be off at each stop and still be sharp at infinity.
      </p>
      <p>
        Two lines that meet, are bridged, stand apart, broken or crossed: that is the grade, from native to danger.
        Every number opens its working.
      </p>
      <p>
        Power off for every swap, and never force a thread or a bayonet. Conversions and electrical work belong with a
        qualified repairer.
      </p>
    </>
  ),
};
