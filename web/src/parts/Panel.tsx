import type Drawer from "antd/es/drawer";
import { type ComponentProps, lazy } from "react";

import { Opened } from "./Opened";

/** Fetched when one is first opened, or before, when nothing else is to do. */
export const fetchPanel = () => import("antd/es/drawer");
const AntDrawer = lazy(fetchPanel);

/** What opens at an edge of the screen. */
export function Panel(props: ComponentProps<typeof Drawer>) {
  return (
    <Opened when={props.open === true}>
      <AntDrawer {...props} />
    </Opened>
  );
}
