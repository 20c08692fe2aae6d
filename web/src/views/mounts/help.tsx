import type { Help } from "../../app/screen";

const KEYS = [
  ["↑ ↓", "the system above and below"],
  ["S", "from the other side: its lenses, its bodies"],
  ["Enter", "the system whole"],
  ["Y N U", "in the key: seen, not seen, cannot see"],
  ["Backspace", "in the key: take the last answer back"],
  ["/", "would it fit: a lens or a label"],
  ["L", "to the light path"],
  ["D", "dark or light"],
  ["?", "these keys"],
  ["Esc", "close, or choose none"],
] as const;

/** What the keys do, and what the drawing shows. */
export const HELP: Help = {
  title: "Keys, and how to read the ruler",
  keys: KEYS,
  children: (
    <>
      <p>
        Every system’s mount face stands on one ruler, counted from the sensor plane. With one chosen, the room between
        two of them is drawn as the ring that would fill it; where one stands inside the other, no plain ring can.
      </p>
      <p>Never force a thread that binds. Conversions belong with a qualified repairer.</p>
    </>
  ),
};
