import type { Details } from "../api/client";

/** When the steps of a card are done. */
export const STAGES: readonly (readonly [Details["steps"][number]["stage"], string])[] = [
  ["before", "Before the swap"],
  ["join", "At the joint"],
  ["joined", "Once joined"],
  ["power_on", "At power-on"],
  ["first_frame", "At the first frame"],
];
