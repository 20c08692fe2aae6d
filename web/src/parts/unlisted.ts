import type { Fit } from "../api/client";

/** Rings that nobody lists have ids that tell all of them: `ring..MOUNT..MOUNT..MM`, and what they do besides. */
const RING = "ring..";

export const isUnlisted = (id: string) => id.startsWith(RING);

export const unlistedIn = (adapters: readonly string[]) => adapters.find(isUnlisted) ?? null;

export interface RingFields {
  lens_mount: string;
  body_mount: string;
  length_mm: number;
  aperture_control?: "lever_ring" | "pin_press";
  helicoid_mm?: number;
  link?: "pass" | "translate";
  from_protocol?: string;
  to_protocol?: string;
}

/** The fields of such a ring, as an adapter has them. */
export function ringFields(id: string): RingFields {
  const [, front = "", rear = "", length = "", ...does] = id.split("..");
  const found: RingFields = { lens_mount: front, body_mount: rear, length_mm: Number(length) };
  while (does.length > 0) {
    const word = does.shift();
    if (word === "lever") found.aperture_control = "lever_ring";
    if (word === "pin") found.aperture_control = "pin_press";
    if (word === "opens") found.helicoid_mm = Number(does.shift());
    if (word === "pass") found.link = "pass";
    if (word === "speaks") {
      found.link = "translate";
      found.from_protocol = does.shift() ?? "";
      found.to_protocol = does.shift() ?? "";
    }
  }
  return found;
}

/** A new adapter in the kit with all of it filled in; afterwards `back`. */
export function addRingLink(id: string, name: string, back: string): string {
  const query = new URLSearchParams({ item: "new", with_name: name, back });
  for (const [field, value] of Object.entries(ringFields(id))) query.set(`with_${field}`, String(value));
  return `/kit/adapters?${query.toString()}`;
}

/** A fit as it would be with the ring that nobody lists. */
export function withRing(fit: Fit): Fit {
  const need = fit.would_need;
  if (!need) return fit;
  const { adapters, section, grade } = need;
  return { ...fit, adapters, section, grade, surely: true, price: null, sentence: `With: ${need.ring}` };
}
