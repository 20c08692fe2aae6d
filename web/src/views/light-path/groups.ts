import type { MatchReport, RouteLine } from "../../api/client";

export const GROUP_NAMES: Record<RouteLine["group"], string> = {
  infinity: "Reaches infinity",
  closer: "Closer",
  brighter: "Wider and brighter",
  movements: "Tilt and shift",
  filter: "Filter",
  iris: "Aperture in the adapter",
  electronics: "Electronics",
  fails: "Does not work",
};

export interface RouteGroup {
  group: RouteLine["group"];
  /** Places in the report, best first. */
  places: number[];
}

/** The routes by what they are for; the group of the best route first, those that do not work last. */
export function groupsOf(routes: readonly Pick<RouteLine, "group">[]): RouteGroup[] {
  const found = new Map<RouteLine["group"], number[]>();
  routes.forEach(({ group }, place) => {
    const places = found.get(group);
    if (places) places.push(place);
    else found.set(group, [place]);
  });
  const groups = [...found].map(([group, places]) => ({ group, places }));
  return [...groups.filter(({ group }) => group !== "fails"), ...groups.filter(({ group }) => group === "fails")];
}

/** Places in the report in the order in which they stand on the screen. */
export const orderOf = (report: MatchReport): number[] => groupsOf(report.routes).flatMap(({ places }) => places);
