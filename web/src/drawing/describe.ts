import { lengthOrNot, mm, signedLength } from "../parts/format";
import { type Scene, waistOf } from "./scene";
import { headed } from "../parts/words";

/** The drawing in words, for those who do not see it. */
export function describe(scene: Scene, sentence: string): string {
  const name = (id: string) => scene.pieces[id]?.name ?? id;
  const lens = scene.lens === null ? undefined : scene.pieces[scene.lens];
  const body = scene.body === null ? undefined : scene.pieces[scene.body];
  const said = [
    lens && body
      ? `Section through ${lens.name} on ${body.name}, to scale.`
      : `Section through ${lens?.name ?? body?.name ?? "nothing"}, to scale.`,
    lens ? `${headed("flange_focal_distance")} of the lens: ${lengthOrNot(lens.register_mm)}.` : "",
    body ? `${headed("flange_focal_distance")} of the body: ${lengthOrNot(body.register_mm)}.` : "",
  ];
  const { route } = scene;
  if (route) {
    const chain = route.adapters.map((id) => `${name(id)}, ${mm(scene.pieces[id]?.length_mm ?? 0)} mm`).join("; ");
    const waist = waistOf(scene);
    const side = waist > 0 ? "before" : "behind";
    said.push(
      chain ? `Between them: ${chain}.` : "Nothing stands between them.",
      `${headed("flange_error")}: ${signedLength(route.register_error_mm, 3)}.`,
      route.register_error_mm === null
        ? "Where light from infinity meets is not known."
        : waist === 0
          ? "Light from infinity can be brought to a point on the sensor."
          : `Light from infinity meets ${mm(Math.abs(waist))} mm ${side} the sensor at best.`,
      route.wire.ends_at === null ? "The contacts reach the lens." : `The contacts end at ${name(route.wire.ends_at)}.`,
    );
  }
  return [...said.filter(Boolean), sentence].join(" ");
}
