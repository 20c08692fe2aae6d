import type { Kind } from "../../api/queries";

export interface Group {
  title: string;
  /** What decides stands open. */
  open?: boolean;
  fields: string[];
}

const PRICES = ["price_used", "price_on", "resale", "rent_per_day"];

/** What a form asks, in which order: first what decides. What is not named here stands under the rest. */
export const GROUPS: Record<Kind, Group[]> = {
  lenses: [
    {
      title: "What decides",
      open: true,
      fields: ["mount", "generation", "focal_length_mm", "f_number", "focus", "aperture", "protocol"],
    },
    {
      title: "Kept as",
      open: true,
      fields: ["name", "owned", "borrowed", "price", "character", "aliases", "notes"],
    },
    { title: "Measured", fields: ["measured_register_mm", "measured_tolerance_mm", "measured_on"] },
    {
      title: "Reach and picture",
      fields: [
        "min_focus_m",
        "max_magnification",
        "past_infinity_mm",
        "image_circle_mm",
        "f_number_at_long_end",
        "exit_pupil_mm",
        "squeeze",
        "fisheye",
        "shift_mm",
        "shift_axis",
        "tilt_deg",
      ],
    },
    {
      title: "Coupling and contacts",
      fields: ["conversion", "features", "auto_manual_switch", "iris_at_rest", "offers", "stabilised", "firmware"],
    },
    {
      title: "Size and weight",
      fields: [
        "length_mm",
        "diameter_mm",
        "mass_g",
        "centre_of_mass_mm",
        "tripod_foot",
        "filter_thread_mm",
        "rear_protrusion_mm",
        "rear_diameter_mm",
        "focus_throw_deg",
      ],
    },
    { title: "Other mounts", fields: ["swappable_mounts", "not_on"] },
    {
      title: "Further details",
      fields: [
        "t_number",
        "image_circle_from",
        "image_circle_tolerance_mm",
        "marked_focal_lengths_mm",
        "marked_f_numbers",
        "marked_distances_m",
        "rotates",
        "foot_mm",
        "barrel_mm",
        "rear_thread",
        "frame_lines",
        "code",
        ...PRICES,
      ],
    },
    { title: "Evidence", fields: ["evidence"] },
  ],
  bodies: [
    {
      title: "What decides",
      open: true,
      fields: ["mount", "generation", "kind", "sensor_mm", "protocols", "bare_release"],
    },
    {
      title: "Kept as",
      open: true,
      fields: ["name", "owned", "borrowed", "price", "character", "aliases", "notes"],
    },
    { title: "Measured", fields: ["measured_register_mm", "measured_tolerance_mm", "measured_on"] },
    {
      title: "Sensor and stabiliser",
      fields: ["megapixels", "modes", "stabiliser", "max_ray_angle_deg", "desqueeze"],
    },
    {
      title: "With lenses that it does not recognise",
      fields: [
        "exposure_modes",
        "meters",
        "screw_drive",
        "holds_iris",
        "asks_focal_length",
        "focus_aids",
        "settings",
        "firmware",
      ],
    },
    {
      title: "Size and weight",
      fields: ["width_mm", "height_mm", "depth_mm", "mount_centre_mm", "obstruction_mm", "mass_g"],
    },
    { title: "Other plates", fields: ["swappable_mounts"] },
    {
      title: "Further details",
      fields: ["magnifier", "battery", "reads_code", "centre_of_mass_mm", "tripod_screw_mm", ...PRICES],
    },
    { title: "Evidence", fields: ["evidence"] },
  ],
  adapters: [
    {
      title: "What decides",
      open: true,
      fields: ["lens_mount", "body_mount", "length_mm", "tolerance_mm", "optics", "link"],
    },
    { title: "Kept as", open: true, fields: ["name", "owned", "borrowed", "price", "aliases", "notes"] },
    {
      title: "Measured",
      fields: ["measured_length_mm", "measured_tolerance_mm", "measured_on", "length_from"],
    },
    {
      title: "Glass",
      fields: [
        "magnification",
        "register_in_mm",
        "register_out_mm",
        "image_circle_mm",
        "widest_f_number",
        "front_glass_mm",
        "light_loss_stops",
      ],
    },
    {
      title: "Contacts and aperture",
      fields: [
        "from_protocol",
        "to_protocol",
        "chip",
        "carries",
        "aperture_control",
        "lens_generation",
        "lens_side_features",
        "firmware",
      ],
    },
    {
      title: "What it can move",
      fields: ["helicoid_mm", "tilt_deg", "shift_mm", "shift_axis", "rotates", "filter_slot"],
    },
    {
      title: "Build",
      fields: [
        "bore_mm",
        "outer_mm",
        "play_mm",
        "locking",
        "load_rating_nm",
        "tripod_foot",
        "mass_g",
        "reflections",
        "irreversible",
        "prepare",
      ],
    },
    {
      title: "Further details",
      fields: ["control_ring", "passes_screw", "iris_diameter_mm", "foot_mm", "frame_lines", ...PRICES],
    },
    { title: "Evidence", fields: ["evidence"] },
  ],
  mounts: [
    {
      title: "What decides",
      open: true,
      fields: ["name", "coupling", "thread", "register_mm", "lens_kind"],
    },
    {
      title: "Build",
      fields: [
        "tolerance_mm",
        "throat_mm",
        "inner_mm",
        "outer_mm",
        "load_rating_nm",
        "play_mm",
        "locking",
        "positions",
      ],
    },
    { title: "Words for the steps", fields: ["index_mark", "lock_action", "aliases", "notes"] },
    { title: "What can be seen on it", fields: ["features"] },
    { title: "Generations", fields: ["generations"] },
    { title: "Rules: what meets what", fields: ["rules"] },
    { title: "Further details", fields: ["interface", "code", "profiles"] },
  ],
  accessories: [
    {
      title: "What decides",
      open: true,
      fields: [
        "kind",
        "clamps_to_mm",
        "front_thread_mm",
        "rear_thread_mm",
        "rod_distance_mm",
        "rod_height_mm",
        "rod_diameter_mm",
        "reach_mm",
        "loss_stops",
        "range_stops",
        "colour_shift",
        "cross_from_deg",
        "length_mm",
        "locks",
      ],
    },
    {
      title: "Kept as",
      open: true,
      fields: ["name", "owned", "borrowed", "price", "mass_g", "aliases", "notes"],
    },
    { title: "Further details", fields: ["firmware", ...PRICES] },
    { title: "Evidence", fields: ["evidence"] },
  ],
  foils: [
    {
      title: "What it is",
      open: true,
      fields: ["name", "thickness_mm", "count", "material", "tolerance_mm", "aliases", "notes"],
    },
  ],
  pairs: [
    {
      title: "What was tried",
      open: true,
      fields: ["name", "a", "b", "verdict", "part", "on", "source", "aliases", "notes"],
    },
  ],
  protocols: [{ title: "What it is", open: true, fields: ["name", "accepts", "powers", "aliases", "notes"] }],
  rigs: [{ title: "The rig", open: true, fields: ["name", "lens", "adapters", "body", "accessories", "notes"] }],
};
