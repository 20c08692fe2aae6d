import { api, client, send, unwrap } from "./client";
import type { components } from "./schema";

type Schemas = components["schemas"];
export type MeasureAsked = Schemas["MeasureAsked"];
export type MeasuredAnswer = Required<Schemas["MeasuredAnswer"]>;
export type MeasuringWork = Schemas["MeasuringWork"];
export type PlacedEdge = MeasuredAnswer["edges"][number];
export type MeasuredPage = Schemas["MeasuredPage"];
export type Sharp = MeasuredPage["sharp"][number];
export type UsableMeasured = MeasuredPage["usable"][number];
export type ChartSheet = Schemas["ChartSheet"];
export type MeasuredUse = UsableMeasured["demand"]["use"];
export type DeskPicture = Schemas["DeskHere"];
export type RingStands = MeasureAsked["ring"];

export type MeasuredCompared = Schemas["MeasuredCompared"];

export interface OnBenchRig {
  lens: string;
  body: string;
  via: string;
}
/** What a use demands, where it was set: by a print as it is looked at, or in lp/mm. */
export interface DemandSet {
  use: MeasuredUse;
  print_width_mm?: number;
  viewing_mm?: number;
  lp_per_mm?: number;
}

/** A picture sent whole; it stays on this machine, and only as long as the page is served. */
export async function sendPicture(file: File): Promise<DeskPicture> {
  const answer = await send(`/api/v1/measured/pictures?name=${encodeURIComponent(file.name)}`, file);
  return (await answer.json()) as DeskPicture;
}

export const samplePicture = async (kind: "chart" | "lit") =>
  unwrap(await client.POST("/api/v1/measured/pictures/sample", { params: { query: { kind } } }));

export const loggedPicture = async (number: number) =>
  unwrap(await client.POST("/api/v1/measured/pictures/log/{number}", { params: { path: { number } } }));

export const viewOf = (picture: string) => `/api/v1/measured/pictures/${picture}/view`;

export const measuringQuery = (id: string) =>
  api.queryOptions(
    "get",
    "/api/v1/measured/work/{id}",
    { params: { path: { id } } },
    {
      enabled: id !== "",
      staleTime: 0,
      refetchInterval: ({ state }) => (state.data?.state === "working" || !state.data ? 200 : false),
    },
  );

export const keptMeasuresQuery = (rig: OnBenchRig, demand: DemandSet) =>
  api.queryOptions("get", "/api/v1/measured/kept", { params: { query: { ...rig, ...demand } } }, { staleTime: 0 });

export const comparedMeasuresQuery = (rig: OnBenchRig, other: OnBenchRig) =>
  api.queryOptions("get", "/api/v1/measured/compare", {
    params: { query: { ...rig, with_lens: other.lens, with_body: other.body, with_via: other.via } },
  });

export interface ChartAsked {
  kind: "edges" | "ladder";
  side_mm: number;
  across: number;
  down: number;
  printer_mm: number;
  lens?: string;
  body?: string;
}

export const chartQuery = (asked: ChartAsked) =>
  // The client widens pairs to lists.
  api.queryOptions(
    "get",
    "/api/v1/measured/chart",
    { params: { query: asked } },
    { select: (sheet: unknown) => sheet as ChartSheet },
  );
