import { api } from "./client";
import type { components } from "./schema";

/** The server leaves nothing out. */
export type Trial = Required<components["schemas"]["FiledTrial"]>;
export type TrialsPage = Omit<components["schemas"]["TrialsPage"], "trials"> & { trials: TrialLine[] };
export type TrialLine = components["schemas"]["TrialLine"] & { trial: Trial };
export type Verdict = Trial["centre"];

/** What was tried of a rig, and what it comes to. */
export const trialsQuery = (rig: { lens: string; body: string; via: string }) =>
  api.queryOptions(
    "get",
    "/api/v1/trials",
    { params: { query: rig } },
    { staleTime: 0, select: (page: unknown) => page as TrialsPage },
  );

/** Everything that was tried, the latest first. */
export const everyTrialQuery = api.queryOptions("get", "/api/v1/trials", undefined, {
  staleTime: 0,
  select: (page: unknown) => page as TrialsPage,
});
