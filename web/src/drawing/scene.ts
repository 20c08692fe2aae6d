import type { FitsReport, MatchReport, Piece, Route, Station } from "../api/client";

/** What is drawn: everything that stands before the sensor, whether a route was judged or not. */
export interface Scene {
  stations: readonly Station[];
  pieces: Record<string, Piece>;
  lens: string | null;
  body: string | null;
  /** From the lens to the body. */
  adapters: readonly string[];
  route: Route | null;
}

export const find = (scene: { stations: readonly Station[] }, kind: Station["kind"], link?: string) =>
  scene.stations.find((station) => station.kind === kind && (link === undefined || station.link === link));

export const sceneOf = (report: MatchReport, route: Route): Scene => ({
  stations: route.stations,
  pieces: report.pieces,
  lens: report.lens,
  body: report.body,
  adapters: route.adapters,
  route,
});

/** Lens and body with nothing that joins them. */
export const sceneApart = (report: MatchReport): Scene => ({
  stations: report.apart,
  pieces: report.pieces,
  lens: report.lens,
  body: report.body,
  adapters: [],
  route: null,
});

/** One end alone. */
export const sceneOfOne = (fits: FitsReport): Scene => ({
  stations: fits.alone,
  pieces: fits.pieces,
  lens: fits.given === "lens" ? fits.id : null,
  body: fits.given === "body" ? fits.id : null,
  adapters: [],
  route: null,
});

export interface AdapterAt {
  id: string;
  piece: Piece;
  rear: number;
  front: number;
  outer: number;
  bore: number;
}

/** The adapters where they stand, in mm; radii, with something to draw where the bore is not known. */
export const adaptersOf = (scene: Scene): AdapterAt[] =>
  scene.adapters.flatMap((id, index) => {
    const piece = scene.pieces[id];
    if (!piece) return [];
    // A piece may be used twice: the nth from the body is the nth among its stations.
    const before = scene.adapters.slice(index + 1).filter((other) => other === id).length;
    const own = (kind: Station["kind"]) => scene.stations.filter((s) => s.kind === kind && s.link === id)[before];
    const outer = (own("adapter_front")?.diameter_mm ?? 60) / 2;
    return [
      {
        id,
        piece,
        rear: own("adapter_rear")?.at_mm ?? 0,
        front: own("adapter_front")?.at_mm ?? 0,
        outer,
        bore: Math.min((own("bore_front")?.diameter_mm ?? outer * 1.3) / 2, outer - 2),
      },
    ];
  });

const EASED = new Set<Station["kind"]>([
  "lens_seat",
  "rear_vertex",
  "exit_pupil",
  "lens_front",
  "waist",
  "adapter_rear",
  "adapter_front",
  "bore_rear",
  "bore_front",
  "glass",
  "filter",
]);

/** `to` on its way from `from`: what stands in both moves, what is new grows out of the room that was there. */
export function between(from: Scene, to: Scene, share: number): Scene {
  if (share >= 1) return to;
  const seat = find(to, "body_seat")?.at_mm ?? 0;
  const grown = ((find(from, "lens_seat")?.at_mm ?? 0) - seat) / ((find(to, "lens_seat")?.at_mm ?? 0) - seat || 1);
  return {
    ...to,
    stations: to.stations.map((station) => {
      if (!EASED.has(station.kind)) return station;
      const lens = station.link === to.lens;
      const old = lens ? find(from, station.kind)?.at_mm : undefined;
      const start = old ?? (lens ? station.at_mm : seat + (station.at_mm - seat) * Math.max(0, Math.min(grown, 2)));
      return { ...station, at_mm: start + (station.at_mm - start) * share };
    }),
  };
}
