import type { KeyReport } from "../api/client";
import { GradeMark } from "../drawing/GradeMark";

export type Effect = KeyReport["may_mount"][number]["effect"];

export const EFFECT_WORDS: Record<Effect, string> = {
  damage: "breaks parts",
  safe_after: "after an action",
  inspect: "inspect first",
  no_metering: "no metering",
  stop_down_metering: "stopped down",
  meters: "meters",
  nothing_known: "nothing stated",
};

const MARKS = {
  damage: "danger",
  safe_after: "modify",
  inspect: "modify",
  no_metering: "partial",
  stop_down_metering: "manual",
  meters: "full",
  nothing_known: "close_up",
} as const;

/** The mark of what happens when two generations meet. */
export const EffectMark = ({ effect }: { effect: Effect }) => <GradeMark grade={MARKS[effect]} size={17} />;
