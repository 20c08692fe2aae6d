import type { MatchReport } from "../../api/client";

/** The pieces of a route by their names. */
export const chainName = (report: MatchReport, route: { adapters: readonly string[] }) =>
  route.adapters.map((id) => report.names[id] ?? id).join(" + ") || "Bare, without an adapter";
