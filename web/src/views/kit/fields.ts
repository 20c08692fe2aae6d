import type { Kind } from "../../api/queries";

export interface Group {
  title: string;
  /** What decides stands open. */
  open?: boolean;
  fields: string[];
}

/** What a form asks, in which order: first what decides. What is not named here stands under the rest. */
export const GROUPS: Record<Kind, Group[]> = {
  lenses: [
    { title: "What decides", open: true, fields: ["mount", "generation", "focal_length_mm", "f_number", "focus", "aperture", "protocol"] },
    { title: "Kept as", open: true, fields: ["name", "owned", "borrowed", "price", "character", "aliases", "notes"] },
    { title: "Measured", fields: ["measured_register_mm", "measured_tolerance_mm", "measured_on"] },
    { title: "Reach and picture", fields: ["min_focus_m", "max_magnification", "past_infinity_mm", "image_circle_mm", "f_number_at_long_end", "exit_pupil_mm", "squeeze", "fisheye", "shift_mm", "tilt_deg"] },
    { title: "Coupling and contacts", fields: ["conversion", "features", "auto_manual_switch", "iris_at_rest", "offers", "stabilised", "firmware"] },
    { title: "Size and weight", fields: ["length_mm", "diameter_mm", "mass_g", "centre_of_mass_mm", "tripod_foot", "filter_thread_mm", "rear_protrusion_mm", "rear_diameter_mm", "focus_throw_deg"] },
    { title: "Other mounts", fields: ["swappable_mounts", "not_on"] },
    { title: "Evidence", fields: ["evidence"] },
  ],
  bodies: [
    { title: "What decides", open: true, fields: ["mount", "generation", "kind", "sensor_mm", "protocols", "bare_release"] },
    { title: "Kept as", open: true, fields: ["name", "owned", "borrowed", "price", "character", "aliases", "notes"] },
    { title: "Measured", fields: ["measured_register_mm", "measured_tolerance_mm", "measured_on"] },
    { title: "Sensor and stabiliser", fields: ["megapixels", "modes", "stabiliser", "max_ray_angle_deg", "desqueeze"] },
    { title: "How it works with a strange lens", fields: ["exposure_modes", "meters", "screw_drive", "holds_iris", "asks_focal_length", "focus_aids", "settings", "firmware"] },
    { title: "Size and weight", fields: ["width_mm", "height_mm", "depth_mm", "mount_centre_mm", "obstruction_mm", "mass_g"] },
    { title: "Other plates", fields: ["swappable_mounts"] },
    { title: "Evidence", fields: ["evidence"] },
  ],
  adapters: [
    { title: "What decides", open: true, fields: ["lens_mount", "body_mount", "length_mm", "tolerance_mm", "optics", "link"] },
    { title: "Kept as", open: true, fields: ["name", "owned", "borrowed", "price", "aliases", "notes"] },
    { title: "Measured", fields: ["measured_length_mm", "measured_tolerance_mm", "measured_on"] },
    { title: "Glass", fields: ["magnification", "register_in_mm", "register_out_mm", "image_circle_mm", "widest_f_number", "front_glass_mm", "light_loss_stops"] },
    { title: "Contacts and iris", fields: ["from_protocol", "to_protocol", "chip", "carries", "aperture_control", "lens_generation", "lens_side_features", "firmware"] },
    { title: "What it can move", fields: ["helicoid_mm", "tilt_deg", "shift_mm", "rotates", "filter_slot"] },
    { title: "Metal", fields: ["bore_mm", "outer_mm", "play_mm", "locking", "load_rating_nm", "tripod_foot", "mass_g", "reflections", "irreversible", "prepare"] },
    { title: "Evidence", fields: ["evidence"] },
  ],
  mounts: [
    { title: "What decides", open: true, fields: ["name", "interface", "coupling", "thread", "register_mm", "tolerance_mm", "lens_kind"] },
    { title: "Metal", open: true, fields: ["throat_mm", "inner_mm", "outer_mm", "load_rating_nm", "play_mm", "locking", "positions"] },
    { title: "Words for the steps", fields: ["index_mark", "lock_action", "aliases", "notes"] },
    { title: "What can be seen on it", fields: ["features"] },
    { title: "Generations", fields: ["generations"] },
    { title: "Rules: what meets what", fields: ["rules"] },
  ],
  protocols: [{ title: "What it is", open: true, fields: ["name", "accepts", "powers", "aliases", "notes"] }],
  rigs: [{ title: "The rig", open: true, fields: ["name", "lens", "adapters", "body", "notes"] }],
};

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
