import theme from "antd/es/theme";
import type { ThemeConfig } from "antd/es/config-provider";

const FACE = '"Sofia Sans Semi Condensed Variable", "DejaVu Sans Condensed", system-ui, sans-serif';

const shared = {
  fontFamily: FACE,
  fontSize: 15,
  borderRadius: 2,
  wireframe: false,
  motionDurationMid: "0.12s",
  motionDurationSlow: "0.16s",
};

/** Ant Design in our colours. The same values stand in tokens.css for the drawing. */
export function antTheme(dark: boolean): ThemeConfig {
  return {
    algorithm: dark ? theme.darkAlgorithm : theme.defaultAlgorithm,
    token: dark
      ? {
          ...shared,
          colorPrimary: "#8fb9d6",
          colorLink: "#8fb9d6",
          colorError: "#ff9db9",
          colorTextLightSolid: "#0e1317",
          colorBgBase: "#12181d",
          colorTextBase: "#e6ecef",
          colorTextPlaceholder: "#9dabb5",
          colorBorder: "#52626f",
        }
      : {
          ...shared,
          colorPrimary: "#2b4a60",
          colorLink: "#2b4a60",
          colorError: "#a80f43",
          colorBgBase: "#fbfcfc",
          colorTextBase: "#17212b",
          colorTextPlaceholder: "#5a6975",
          colorBorder: "#93a1ac",
        },
    components: {
      Select: { optionSelectedFontWeight: 650 },
      Segmented: { trackPadding: 2 },
    },
  };
}
