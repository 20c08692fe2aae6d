import type {
  End,
  FitsReport,
  MatchReport,
  Piece,
  PlacedAdapter,
  PlacedBody,
  PlacedLens,
  Route,
  Section,
} from "../api/client";

/** What is drawn: everything that stands before the sensor, whether a route was judged or not. */
export interface Scene {
  section: Section | null;
  pieces: Record<string, Piece>;
  lens: string | null;
  body: string | null;
  /** From the lens to the body. */
  adapters: readonly string[];
  route: Route | null;
  /** Where the seat of the lens may stand whose distance nobody knows, in mm. */
  mayStand?: readonly number[];
}

/** The setting of the lens that is told first: the only one, or the widest. */
export function wideOf(route: Route): End {
  const [end] = route.ends;
  if (!end) throw new Error("a route without an end");
  return end;
}

/** A zoom at its long end. */
export const longOf = (route: Route): End | null => route.ends[1] ?? null;

export const lensOf = (scene: Scene): PlacedLens | null => scene.section?.lens ?? null;
export const bodyOf = (scene: Scene): PlacedBody | null => scene.section?.body ?? null;
/** Where the front of the lens stands; null where its length is not known. */
export const lensFront = (section: Section | null): number | null =>
  section?.lens && stated(section.lens, "length_mm") ? section.lens.front_mm : null;

export const waistOf = (scene: Scene): number => scene.section?.waist_mm ?? 0;

/** Whether a measure was stated, or assumed for the drawing. */
export const stated = (piece: { assumed: readonly string[] }, measure: string) => !piece.assumed.includes(measure);

export const sceneOf = (report: MatchReport, route: Route): Scene => ({
  section: route.section,
  pieces: report.pieces,
  lens: report.lens,
  body: report.body,
  adapters: route.adapters,
  route,
});

/** Lens and body with nothing that joins them. */
export const sceneApart = (report: MatchReport, mayStand: readonly number[] = []): Scene => ({
  mayStand,
  section: report.apart,
  pieces: report.pieces,
  lens: report.lens,
  body: report.body,
  adapters: [],
  route: null,
});

/** One end alone. */
export const sceneOfOne = (fits: FitsReport): Scene => ({
  section: fits.alone,
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
  /** Where its glass and its filter stand; null: it has none. */
  glass: number | null;
  filter: number | null;
}

/** The adapters where they stand, in mm; radii, with a wall thick enough to be seen. */
export const adaptersOf = (scene: Scene): AdapterAt[] =>
  (scene.section?.adapters ?? []).flatMap((placed: PlacedAdapter) => {
    const piece = scene.pieces[placed.link];
    if (!piece) return [];
    const outer = placed.outer_mm / 2;
    return [
      {
        id: placed.link,
        piece,
        rear: placed.rear_mm,
        front: placed.front_mm,
        outer,
        bore: Math.min(placed.bore_mm / 2, outer - 2),
        glass: placed.glass_mm,
        filter: placed.filter_mm,
      },
    ];
  });

/** What the chain can be set to: how far a helicoid opens and a shift goes, in mm; a tilt in degrees. */
export function movementsOf(scene: Scene) {
  const lens = scene.lens === null ? undefined : scene.pieces[scene.lens];
  const adapters = adaptersOf(scene);
  const tilting = adapters.find(({ piece }) => piece.tilt_deg > 0) ?? null;
  return {
    helicoid: adapters.reduce((sum, { piece }) => sum + piece.helicoid_mm, 0),
    tilting,
    tilt: tilting?.piece.tilt_deg ?? lens?.tilt_deg ?? 0,
    shift: adapters.find(({ piece }) => piece.shift_mm > 0)?.piece.shift_mm ?? lens?.shift_mm ?? 0,
  };
}

/** How far the helicoids are opened for infinity, in mm; 0: they are closed. */
export const openedForInfinity = (route: Route) =>
  route.ranges.reduce((sum, { for_infinity_mm: opened }) => sum + (opened ?? 0), 0);

const shared = (from: number | null | undefined, to: number, share: number) =>
  (from ?? to) + (to - (from ?? to)) * share;

/** `to` on its way from `from`: the lens moves, what stands between grows out of the room that was there. */
export function between(from: Scene, to: Scene, share: number): Scene {
  const { section } = to;
  const [lens, old] = [lensOf(to), lensOf(from)];
  if (share >= 1 || !section || !lens) return to;
  const seat = section.body?.seat_mm ?? 0;
  const grown = Math.max(0, Math.min(((old?.seat_mm ?? 0) - seat) / (lens.seat_mm - seat || 1), 2));
  const eased = (z: number) => shared(seat + (z - seat) * grown, z, share);
  return {
    ...to,
    section: {
      ...section,
      waist_mm: section.waist_mm === null ? null : shared(from.section?.waist_mm, section.waist_mm, share),
      adapters: section.adapters.map((one) => ({
        ...one,
        rear_mm: eased(one.rear_mm),
        front_mm: eased(one.front_mm),
        glass_mm: one.glass_mm === null ? null : eased(one.glass_mm),
        filter_mm: one.filter_mm === null ? null : eased(one.filter_mm),
      })),
      lens: {
        ...lens,
        seat_mm: shared(old?.seat_mm, lens.seat_mm, share),
        rear_vertex_mm: shared(old?.rear_vertex_mm, lens.rear_vertex_mm, share),
        front_mm: shared(old?.front_mm, lens.front_mm, share),
        exit_pupil_mm: lens.exit_pupil_mm === null ? null : shared(old?.exit_pupil_mm, lens.exit_pupil_mm, share),
      },
    },
  };
}

/** Whether some tolerance of the chain is not stated, and the usual one stands in for it. */
export const toleranceAssumed = (route: Route) => route.assumed.some((path) => path.endsWith("tolerance_mm"));

/** Whether a rig does not work: then nothing is told of it but what stops it, and what would help. */
export const fails = (route: Route) => route.grade === "none" || route.grade === "danger";
