const FACE = '"Sofia Sans Semi Condensed Variable", "DejaVu Sans Condensed", system-ui, sans-serif';

/** The class by which Ant Design's components know their theme. */
export const KEY = "css-var-root";

const shared = {
  fontFamily: FACE,
  fontSize: 15,
  borderRadius: 2,
  wireframe: false,
  motionDurationMid: "0.12s",
  motionDurationSlow: "0.16s",
};

/** Ant Design in our colours. The same values stand in tokens.css for the drawing. */
export const LIGHT = {
  ...shared,
  colorPrimary: "#2b4a60",
  colorLink: "#2b4a60",
  colorError: "#a80f43",
  colorBgBase: "#fbfcfc",
  colorTextBase: "#17212b",
  colorTextPlaceholder: "#5a6975",
  colorBorder: "#93a1ac",
};

export const DARK = {
  ...shared,
  colorPrimary: "#8fb9d6",
  colorLink: "#8fb9d6",
  colorError: "#ff9db9",
  colorTextLightSolid: "#0e1317",
  colorBgBase: "#12181d",
  colorTextBase: "#e6ecef",
  colorTextPlaceholder: "#9dabb5",
  colorBorder: "#52626f",
};

/** Whether fingers touch the screen; the same question stands in page.css. */
export const FINGERS = "(max-width: 899px), (pointer: coarse)";

/** For fingers nothing is smaller than 44 px. */
export const TOUCHED = { controlHeight: 44, controlHeightSM: 44 };

export const PARTS = {
  Select: { optionSelectedFontWeight: 650 },
  Segmented: { trackPadding: 2 },
};

/** The values that the library's scripts look at; all others are looked at by styles alone. */
export const SEEN_BY_SCRIPTS = [
  "zIndexPopupBase",
  "motion",
  "controlHeight",
  "sizePopupArrow",
  "borderRadius",
  "marginXXS",
] as const;
