import { api } from "../../api/client";
import type { components } from "../../api/schema";

export type LanState = components["schemas"]["LanState"];
export type DevicesPage = components["schemas"]["DevicesPage"];
export type CodePage = components["schemas"]["CodePage"];
export type PairedDevice = DevicesPage["devices"][number];
export type Happened = DevicesPage["happened"][number];
export type Right = PairedDevice["may"];

export const lanQuery = api.queryOptions("get", "/api/v1/lan", undefined, { staleTime: 0 });
/** Who comes in is seen at once, while somebody looks. */
export const devicesQuery = api.queryOptions("get", "/api/v1/lan/devices", undefined, {
  staleTime: 0,
  refetchInterval: 2_000,
});
export const codeQuery = api.queryOptions("get", "/api/v1/lan/code", undefined, {
  staleTime: 0,
  refetchInterval: 2_000,
});

export const RIGHTS: readonly { key: Right; name: string }[] = [
  { key: "log", name: "read and log" },
  { key: "most", name: "everything but what is for the machine" },
];

export const rightSaid = (right: Right) => RIGHTS.find(({ key }) => key === right)?.name ?? right;
