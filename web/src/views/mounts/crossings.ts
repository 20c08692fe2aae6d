import type { SystemsReport } from "../../api/client";

export type Side = "lens" | "body";
export type System = SystemsReport["systems"][number];
export type Crossing = SystemsReport["crossings"][number];

/** The crossings of a report, found by the lens's and the body's system. */
export class Crossings {
  private readonly found: ReadonlyMap<string, Crossing>;

  constructor(report: SystemsReport) {
    this.found = new Map(report.crossings.map((one) => [`${one.lens_mount} ${one.body_mount}`, one]));
  }

  /** Lenses of `one` on bodies of `other`, or, from the body's side, the other way round. */
  of(side: Side, one: string, other: string): Crossing | undefined {
    return this.found.get(side === "lens" ? `${one} ${other}` : `${other} ${one}`);
  }
}

export const JOINT_WORDS: Record<Crossing["joint"], string> = {
  same: "no adapter needed",
  practical: "plain adapter",
  tight: "too tight",
  unsure: "perhaps too tight",
  equal: "no length left",
  unknown: "not known",
  none: "too deep",
};
