import type { Help } from "../../app/screen";
import { VIEWS } from "./viewNames";

const KEYS = [
  ["L", "pick a lens"],
  ["B", "pick a body"],
  ["1 – 4", "church front, nave, pipe mark, chart"],
  ["[ ]", "open and close the aperture by a stop"],
  ["V", "turn the camera upright"],
  ["← → ↑ ↓", "on the drawing: shift by half a millimetre, with Shift by a tenth"],
  ["Home", "on the drawing: no shift"],
  ...VIEWS.filter(({ view }) => view !== "picture").map(({ key, name }) => [key.toUpperCase(), name] as const),
  ["G", "the light path"],
  ["D", "dark or light"],
  ["?", "these keys"],
] as const;

export const HELP: Help = {
  title: "Keys, and how to read the frame",
  keys: KEYS,
  children: (
    <>
      <p>
        The picture is computed from the numbers of this rig, not photographed: framing, blur by distance, dark corners
        and fall-off are as they would be; aberrations, flare and diffraction are left out.
      </p>
      <p>
        In the drawing beside it stands the image circle, with the sensor in use, its other modes, and dashed how far
        the stabiliser or a shift goes. Drag the sensor, or move it with the arrow keys.
      </p>
    </>
  ),
};
