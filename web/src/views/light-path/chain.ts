import type { MatchReport, Route } from "../../api/client";

/** The pieces of a route by their names. */
export const chainName = (report: MatchReport, route: Route) =>
  route.adapters.map((id) => report.pieces[id]?.name ?? id).join(" + ") || "Bare, without an adapter";
