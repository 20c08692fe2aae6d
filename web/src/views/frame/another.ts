import type { Words } from "../../app/useChange";

/** Another rig has other stops, modes and movements; the scene stays. */
export const ANOTHER: Words = {
  via: null,
  n: null,
  mm: null,
  mode: null,
  sx: null,
  sy: null,
  tilt: null,
  vs: null,
  row: null,
  out: null,
};
