import Select from "antd/es/select";
import { useId } from "react";

import type { Fit, FrameReport, MatchReport } from "../../api/client";
import { fNumber } from "../../parts/format";
import { type Settings, written } from "./settings";
import { viaOf } from "../../parts/rig";

interface Props {
  report: FrameReport;
  settings: Settings;
  routes: MatchReport | undefined;
  natives: readonly Pick<Fit, "id" | "name">[];
  value: string | null;
  onChange: (value: string | null) => void;
}

const chain = (report: MatchReport, adapters: readonly string[]) =>
  adapters.map((id) => report.names[id] ?? id).join(" + ") || "bare, without an adapter";

/** What may stand beside it: another stop, level, without tilt, or another rig of the pair. */
export function choicesOf({ report, settings, routes, natives }: Omit<Props, "value" | "onChange">) {
  const stops = report.f_numbers.filter((one) => one !== report.f_number);
  const found: { value: string; label: string }[] = [
    ...stops.map((n) => ({ value: written({ n: String(n) }), label: fNumber(n) })),
  ];
  if (report.scene === "facade" && (settings.p ?? "1") !== "0")
    found.push({ value: written({ p: "0", sx: "", sy: "" }), label: "camera tilted up, not shifted" });
  if (report.scene === "facade" && settings.p === "0")
    found.push({ value: written({ p: "1" }), label: "level, and shifted as far as it goes" });
  if (settings.tilt) found.push({ value: written({ tilt: "" }), label: "without tilt" });
  if (settings.stray !== "1" && report.stabiliser_travel_mm !== null)
    found.push({ value: written({ stray: "1" }), label: "stabiliser at the corner of its travel" });
  const here = viaOf(report.adapters);
  for (const { adapters } of (routes?.routes ?? []).slice(0, 12)) {
    const via = viaOf(adapters);
    if (routes && via !== here) found.push({ value: written({ via }), label: chain(routes, adapters) });
  }
  for (const { id, name } of natives) found.push({ value: written({ lens: id, via: "" }), label: `${name}, native` });
  return found;
}

export function Versus(props: Props) {
  const id = useId();
  return (
    <div className="frame-asked">
      <label htmlFor={id}>Beside it</label>
      <Select
        id={id}
        allowClear
        placeholder="nothing"
        popupMatchSelectWidth={false}
        value={props.value}
        options={choicesOf(props)}
        onChange={(value: string | undefined) => props.onChange(value ?? null)}
      />
    </div>
  );
}
