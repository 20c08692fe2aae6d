import "./Coverage.css";

import { useMutation, useQueryClient } from "@tanstack/react-query";
import Button from "antd/es/button";
import InputNumber from "antd/es/input-number";
import Select from "antd/es/select";
import { useState } from "react";

import { client, type FrameReport, type Sighted, unwrap } from "../../api/client";
import { mm, signedMm } from "../../parts/format";
import { keepCircle } from "../../parts/measuredCircle";
import { Refused } from "../../parts/Refused";
import { capital, headed, word } from "../../parts/words";
import { viaOf } from "../../parts/rig";
import { Plain } from "../../parts/Plain";
import { TableHead } from "../../parts/TableHead";

const known = (value: number | null, digits = 1) => (value === null ? "not known" : `${mm(value, digits)} mm`);

interface Props {
  report: FrameReport;
  onMode: (name: string) => void;
}

/** Every mode of the sensor under the circle. */
export function Coverage({ report, onMode }: Props) {
  const source =
    report.image_circle_mm === null
      ? "not known"
      : `${mm(report.image_circle_mm, 1)} mm at the sensor, ${
          { stated: "as stated", measured: "measured", format: "usual for its format, assumed" }[report.circle_from] ??
          ""
        }${report.circle_doubt_mm === null ? "" : `, to ${mm(report.circle_doubt_mm, 1)} mm`}`;
  return (
    <section>
      <h2>Coverage</h2>
      <p>{`${headed("image_circle")}: ${source}.`}</p>
      <div className="wide-table">
        <table className="data-table" data-table="modes">
          <TableHead
            columns={[
              "mode",
              "covered",
              word("coverage_margin"),
              word("greatest_rise"),
              "with the camera upright",
              "costs",
              "chosen",
            ]}
          />
          <tbody>
            {report.modes.map((mode) => (
              <tr key={mode.name} aria-current={mode.in_use ? "true" : undefined} data-mode={mode.name}>
                <th scope="row">
                  <Plain className="unfold" onClick={() => onMode(mode.name)}>
                    {mode.name}
                  </Plain>{" "}
                  {mode.name.includes("×") ? "mm" : `${mode.width_mm} × ${mode.height_mm} mm`}
                </th>
                <td>{mode.covered === null ? "not known" : mode.covered ? "yes" : "no: dark corners"}</td>
                <td>{mode.margin_mm === null ? "not known" : `${signedMm(mode.margin_mm)} mm`}</td>
                <td>
                  {known(mode.rise_mm)}
                  {mode.buys_mm ? `, ${mm(mode.buys_mm, 1)} mm more` : ""}
                </td>
                <td>{known(mode.rise_upright_mm)}</td>
                <td>
                  {mode.costs_megapixels === null
                    ? "not known"
                    : mode.costs_megapixels > 0
                      ? `${mm(mode.costs_megapixels, 0)} MP`
                      : "nothing"}
                </td>
                <td>{mode.automatic ? "by the body" : "by hand"}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <Sighting report={report} />
    </section>
  );
}

type Way = "travel" | "shift_across" | "shift_up";

const WAYS: readonly (readonly [Way, string, string])[] = [
  ["travel", "by the stabiliser’s travel", "%"],
  ["shift_up", "by a shift up", "mm"],
  ["shift_across", "by a shift across", "mm"],
];

/** A corner that was looked at becomes the measured circle, with its doubt. */
function Sighting({ report }: { report: FrameReport }) {
  const steadied = report.stabiliser_travel_mm !== null;
  const [way, setWay] = useState<Way>(steadied ? "travel" : "shift_up");
  const [clean, setClean] = useState<number | null>(null);
  const [dark, setDark] = useState<number | null>(null);
  const queries = useQueryClient();
  const share = way === "travel" ? 100 : 1;
  const { lens, body } = report;
  const ask = async (): Promise<Sighted> =>
    unwrap(
      await client.GET("/api/v1/frame/sighting", {
        params: {
          query: {
            ...{ lens, body, way, via: viaOf(report.adapters), mode: report.mode },
            ...(clean === null ? {} : { clean: clean / share }),
            ...(dark === null ? {} : { dark: dark / share }),
          },
        },
      }),
    );
  const keep = useMutation({
    mutationFn: async () => {
      const seen = await ask();
      await keepCircle(lens, seen);
      await queries.invalidateQueries();
      return seen;
    },
  });
  const unit = WAYS.find(([name]) => name === way)?.[2] ?? "mm";
  return (
    <form
      className="sighting"
      onSubmit={(event) => {
        event.preventDefault();
        keep.mutate();
      }}
    >
      <h3>A corner that you looked at</h3>
      <div>
        <label htmlFor="sighting-way">seen</label>
        <Select
          id="sighting-way"
          value={way}
          options={WAYS.filter(([name]) => steadied || name !== "travel").map(([value, label]) => ({
            value,
            label,
          }))}
          onChange={setWay}
        />
      </div>
      <label>
        <span>{`still clean at, ${unit}`}</span>
        <InputNumber min={0} max={100} value={clean} onChange={setClean} aria-label="Still clean at" />
      </label>
      <label>
        <span>{`first dark at, ${unit}`}</span>
        <InputNumber min={0} max={100} value={dark} onChange={setDark} aria-label="First dark at" />
      </label>
      <Button htmlType="submit" loading={keep.isPending} disabled={clean === null && dark === null}>
        Keep as measured
      </Button>
      {keep.error && <Refused error={keep.error} />}
      {keep.data && <p role="status">{saidOf(keep.data)}</p>}
    </form>
  );
}

function saidOf(seen: Sighted): string {
  if (seen.image_circle_mm === null)
    return (
      `A dark corner alone bounds the circle: less than ${mm(seen.dark_mm ?? 0, 1)} mm. ` +
      "Say where it was still clean."
    );
  const doubt = seen.tolerance_mm === null ? "" : `, to ${mm(seen.tolerance_mm, 1)} mm`;
  const circle = `${word("image_circle")} of the lens ${mm(seen.image_circle_mm, 1)} mm`;
  return capital(`${circle}, measured${doubt}. Undo is in the kit.`);
}
