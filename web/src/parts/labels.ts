import type { Kind } from "../api/queries";
import { worded } from "./fields";

/** Names of the trade where the field's own words would not do. */
export const LABELS: Record<string, string> = {
  mount: "Mount",
  lens_mount: "Lens side",
  body_mount: "Camera side",
  focal_length_mm: "Focal length",
  f_number: "Aperture, widest to smallest",
  f_number_at_long_end: "Widest at the long end",
  focus: "How it focuses",
  aperture: "How the iris is set",
  protocol: "Its contacts speak",
  protocols: "Its contacts speak",
  from_protocol: "Understands, lens side",
  to_protocol: "Speaks, camera side",
  owned: "Owned",
  borrowed: "Borrowed",
  character: "What one has it for",
  aliases: "Also called",
  sensor_mm: "Sensor or gate, width × height",
  mount_centre_mm: "Centre of the mount, from the left and top",
  bare_release: "Release without a recognised lens",
  min_focus_m: "Closest focus",
  past_infinity_mm: "Turns past infinity by",
  offers: "What it can tell and do over contacts",
  carries: "What of it comes through",
  measured_register_mm: "Register as measured",
  measured_length_mm: "Length as measured",
  measured_tolerance_mm: "Uncertainty, ±",
  measured_on: "Measured on",
  register_mm: "Register (flange focal distance)",
  throat_mm: "Throat",
  interface: "Interface: what mates with it",
  load_rating_nm: "May carry",
  link: "Contacts",
  optics: "Glass in it",
  helicoid_mm: "Helicoid, extension",
  lens_kind: "Its lenses are",
  positions: "Ways to seat a lens",
  swappable_mounts: "Can be given another mount",
  not_on: "Not to go on, says its maker",
  on: "On",
  with: "Together with",
  from: "From",
  to: "To",
  for: "For",
  where: "Where in the menu",
  prevalence: "Share of its lenses, 0 to 1",
  price: "Price",
  mass_g: "Weight",
  squeeze: "Squeeze",
  body_features: "Bodies have",
  lens_features: "Lenses have",
};

export const KIND_WORDS: Record<Kind, { one: string; many: string; a: string }> = {
  lenses: { one: "lens", many: "Lenses", a: "a lens" },
  bodies: { one: "body", many: "Bodies", a: "a body" },
  adapters: { one: "adapter", many: "Adapters", a: "an adapter" },
  mounts: { one: "mount system", many: "Mount systems", a: "a mount system" },
  protocols: { one: "language of contacts", many: "Contacts", a: "a language of contacts" },
  rigs: { one: "rig", many: "Saved rigs", a: "a rig" },
};

/** The shelves, in the order in which they are offered. */
export const KINDS: readonly Kind[] = ["lenses", "bodies", "adapters", "mounts", "protocols", "rigs"];

/** A field's name within a sentence. */
export const labelOf = (key: string) => (LABELS[key] ?? worded(key).label).toLowerCase();
