import { lazy } from "react";

import type { Help } from "../../app/screen";

const HelpText = lazy(() => import("./HelpText"));

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
  children: <HelpText />,
};
