/** How readings came. */
export const SOURCES = {
  typed: "typed in",
  caliper: "from a caliper",
  simulated: "from the simulated caliper",
} as const;
