import type { Kind } from "../api/queries";
import type { Word } from "../api/client";
import { worded } from "./fields";
import { headed } from "./words";

// The glossary's word stands first; these are for what it does not tell, or tells of something larger.
const LABELS: Record<string, string> = {
  mount: "Mount",
  focal_length_mm: "Focal length",
  f_number: "Aperture, widest to smallest",
  f_number_at_long_end: "Widest at the long end",
  focus: "How it focuses",
  aperture: "How the aperture is set",
  protocol: "Protocol of its contacts",
  protocols: "Protocols of its contacts",
  from_protocol: "Protocol at the lens mount",
  to_protocol: "Protocol at the camera mount",
  owned: "Owned",
  borrowed: "Borrowed",
  character: "Used for",
  aliases: "Also called",
  sensor_mm: "Sensor or gate, width × height",
  mount_centre_mm: "Centre of the mount, from the left and top",
  past_infinity_mm: "Focuses past infinity by",
  offers: "What it can tell and do over contacts",
  carries: "What of it comes through",
  length_from: "The length is",
  measured_length_mm: "Length as measured",
  measured_tolerance_mm: "Uncertainty, ±",
  measured_on: "Measured on",
  interface: "Mates with mounts of the same interface",
  load_rating_nm: "Load rating",
  link: "Contacts",
  optics: "Glass in it",
  helicoid_mm: "Helicoid extension",
  lens_kind: "Its lenses are",
  positions: "Positions in which a lens goes on",
  swappable_mounts: "Can be given another mount",
  not_on: "Not to go on, says its maker",
  on: "On",
  with: "Together with",
  from: "From",
  to: "To",
  for: "For",
  where: "Where in the menu",
  prevalence: "Share of its lenses, 0 to 1",
  price: "Price, new",
  price_used: "Price, used",
  price_on: "Prices as of",
  rent_per_day: "Rent, a day",
  resale: "Resale value",
  t_number: "T-number",
  image_circle_from: "The image circle is known from",
  image_circle_tolerance_mm: "Image circle, ±",
  barrel_mm: "Barrel, across",
  rear_thread: "Thread at the rear",
  foot_mm: "Foot, from the mount face",
  rotates: "It turns: a lens’s front in focusing, a ring’s shift to the other way",
  shift_axis: "Shifts",
  code: "Light and dark fields on the flange",
  profiles: "Lenses that its bodies know by their fields",
  frame_lines: "Frame lines it brings up",
  marked_focal_lengths_mm: "Engraved focal lengths",
  marked_f_numbers: "Engraved apertures",
  marked_distances_m: "Engraved distances",
  passes_screw: "Passes the focusing screw on",
  iris_diameter_mm: "Its aperture, fully open",
  tripod_screw_mm: "Tripod screw, before the sensor",
  battery: "Needs a battery",
  reads_code: "Reads the fields on a flange",
  presets_mm: "Takes only these focal lengths",
  name_length: "Letters in a stored name",
  depth_mm: "Stands out of its mount face by",
  range_stops: "Range",
  cross_from_deg: "Shows a cross from",
  colour_shift: "Shift of colour",
  clamps_to_mm: "Clamps to",
  rod_distance_mm: "Rods, apart",
  rod_height_mm: "Rods, below the axis",
  rod_diameter_mm: "Rods, thick",
  reach_mm: "Reaches before the sensor",
  loss_stops: "Takes of the light",
  front_thread_mm: "Thread in front",
  rear_thread_mm: "Thread at the rear",
  thickness_mm: "Thickness",
  count: "In stock",
  locks: "Rules out",
  a: "One piece",
  b: "The other",
  verdict: "Result",
  part: "With what, or what is fixed",
  mass_g: "Weight",
  body_features: "Bodies have",
  lens_features: "Lenses have",
};

const RECORD_WORDS: Record<string, string> = {
  cards: "Ticked cards",
  stored_lenses: "Stored lenses",
  corner_checks: "Corners looked at",
  outings: "Outings",
};

export const KIND_WORDS: Record<Kind, { one: string; many: string; a: string }> = {
  lenses: { one: "lens", many: "Lenses", a: "a lens" },
  bodies: { one: "body", many: "Bodies", a: "a body" },
  adapters: { one: "adapter", many: "Adapters", a: "an adapter" },
  accessories: { one: "accessory", many: "Accessories", a: "an accessory" },
  foils: { one: "shim foil", many: "Shims", a: "a shim foil" },
  pairs: { one: "pair", many: "Pairs", a: "a pair" },
  mounts: { one: "mount system", many: "Mounts", a: "a mount system" },
  protocols: { one: "protocol", many: "Protocols", a: "a protocol" },
  rigs: { one: "rig", many: "Rigs", a: "a rig" },
};

/** The shelves, in the order in which they are offered. */
export const KINDS: readonly Kind[] = [
  "lenses",
  "bodies",
  "adapters",
  "accessories",
  "pairs",
  "foils",
  "mounts",
  "protocols",
  "rigs",
];

// Fields that are named by the glossary.
const NAMED: Record<string, Word> = {
  register_mm: "flange_focal_distance",
  min_focus_m: "nearest_focus",
  max_magnification: "greatest_magnification",
  throat_mm: "throat",
  lens_mount: "lens_mount",
  body_mount: "camera_mount",
  image_circle_mm: "image_circle",
  exit_pupil_mm: "exit_pupil",
  rear_protrusion_mm: "rear_protrusion",
  obstruction_mm: "obstruction",
  bore_mm: "bore",
  play_mm: "mount_play",
  focus_throw_deg: "focus_throw",
  centre_of_mass_mm: "centre_of_mass",
  bare_release: "bare_release",
  auto_manual_switch: "auto_manual",
  max_ray_angle_deg: "corner_rays",
  squeeze: "squeeze",
  generation: "generation",
  conversion: "conversion",
};

/** The name of a field, as a form asks for it. */
export function titleOf(key: string): string {
  if (key === "measured_register_mm") return `${headed("flange_focal_distance")} as measured`;
  const named = NAMED[key];
  return named ? headed(named) : (LABELS[key] ?? worded(key).label);
}

/** A field's name within a sentence. */
export const labelOf = (key: string) => titleOf(key).toLowerCase();

const isShelf = (kind: string): kind is Kind => kind in KIND_WORDS;

/** What a shelf, or what is recorded beside them, is called. */
export const shelfWord = (kind: string) => RECORD_WORDS[kind] ?? (isShelf(kind) ? KIND_WORDS[kind].many : kind);
