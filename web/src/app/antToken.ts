import { plain, touched } from "virtual:ant-token";

import { FINGERS, KEY } from "./antTheme";
import { useMedia } from "./media";

const fingers = window.matchMedia(FINGERS);

/** What Ant Design's scripts ask of the theme, in the library's own order; its styles stand in a file. */
export default function useToken() {
  const token = useMedia(fingers) ? touched : plain;
  return [null, token, "", token, { prefix: "ant", key: KEY }, true] as const;
}
