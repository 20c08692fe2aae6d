import type { MatchReport, Route } from "../api/client";
import { mm, signedMm } from "../parts/format";

/** The drawing in words, for those who do not see it. */
export function describe(report: MatchReport, route: Route): string {
  const name = (id: string) => report.pieces[id]?.name ?? id;
  const lens = report.pieces[report.lens];
  const body = report.pieces[report.body];
  const chain = route.adapters.map((id) => `${name(id)}, ${mm(report.pieces[id]?.length_mm ?? 0)} mm`).join("; ");
  const waist = route.stations.find(({ kind }) => kind === "waist")?.at_mm ?? 0;
  const light =
    waist === 0
      ? "Light from infinity can be brought to a point on the sensor."
      : `Light from infinity meets ${mm(Math.abs(waist))} mm ${waist > 0 ? "before" : "behind"} the sensor at best.`;
  const wire =
    route.wire.ends_at === null
      ? "The contacts reach the lens."
      : `The contacts end at ${name(route.wire.ends_at)}.`;
  return [
    `Section through ${name(report.lens)} on ${name(report.body)}, to scale.`,
    `The lens needs ${mm(lens?.register_mm ?? 0)} mm; the body has ${mm(body?.register_mm ?? 0)} mm.`,
    chain ? `Between them: ${chain}.` : "Nothing stands between them.",
    `The lens stands ${signedMm(route.register_error_mm, 3)} mm from where it should.`,
    light,
    wire,
    route.sentence,
  ].join(" ");
}
