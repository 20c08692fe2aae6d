import type { Help } from "../../app/screen";
import { VIEWS } from "./viewNames";

export const HELP: Help = {
  title: "Keys, and how to read the bench",
  keys: [
    ["L", "pick a lens"],
    ["B", "pick a body"],
    ...VIEWS.map(({ key, name }) => [key.toUpperCase(), name] as const),
    ["E", "enter a reading"],
    ["G", "the light path"],
    ["D", "dark or light"],
    ["Ctrl Z", "take back what was written"],
    ["?", "these keys"],
  ],
  children: (
    <>
      <p>
        Measuring: the triangle is the datum, the thick lines are the mount faces. A number and Enter is a reading, from
        a hand or from a caliper that types. With the simulated caliper drag its display, or use the arrow keys, and
        Home to close the jaws.
      </p>
      <p>
        What I see: each row of the strip is one thing that was seen, as wide as it is doubtful; zero is where the lens
        should stand, to the left it stands too far from the sensor. The dark hill below is all of it together; the
        light one is how it would be with the foils.
      </p>
      <p>
        From a picture: numbers at the edges are line pairs a millimetre on the sensor, pixels where nobody said whose
        sensor it is. A dotted cross is an edge that does not count; the list beside says why. Drag a rectangle to
        measure one edge alone.
      </p>
    </>
  ),
};
