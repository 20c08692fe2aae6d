import type { FunctionLeft } from "../../api/client";

export const FUNCTION_NAMES: Record<string, string> = {
  autofocus: "Autofocus",
  manual_focus: "Focus by hand",
  aperture: "Aperture",
  identity: "Lens data",
  focal_length: "Focal length",
  focus_distance: "Focus distance",
  stabiliser: "Stabiliser in the lens",
  control_ring: "Control ring",
  aperture_readout: "Aperture read-out",
  open_aperture_metering: "Metering wide open",
  exposure_modes: "Exposure modes",
  automatic_magnifier: "Magnifier by itself",
  automatic_crop: "Crop by itself",
};

export const STATE_WORDS: Record<FunctionLeft["state"], string> = {
  full: "works",
  slow: "works, slowly",
  by_hand: "by hand",
  entered: "entered by hand",
  lost: "lost",
  stuck: "stuck",
};
