import { useQuery } from "@tanstack/react-query";
import Select from "antd/es/select";
import { useId } from "react";

import type { BecomingRow, Beside, FrameReport } from "../../../api/client";
import { besideQuery, bodiesQuery, lensesQuery } from "../../../api/queries";
import type { Chosen } from "../../../app/practice";
import type { Words } from "../../../app/useChange";
import { agreeing, aperture, distance } from "../../../parts/format";
import { chainOf, modeName, setTo, signedStops, whole } from "../becomes/words";
import { viaOf } from "../../../parts/rig";
import { TableHead } from "../../../parts/TableHead";

interface Props {
  report: FrameReport;
  practice: Chosen;
  words: URLSearchParams;
  change: (next: Words, replace?: boolean) => void;
}

/** Another rig at the framing and the depth of this one: where it stands, and what is set on its ring. */
export function EqualFraming({ report, practice, words, change }: Props) {
  const { lens, body } = report;
  const id = useId();
  const bodies = useQuery(bodiesQuery({ practice, lens, whose: "mine" }));
  const lenses = useQuery(lensesQuery({ practice, body, whose: "mine" }));
  const names = { ...bodies.data?.names, ...lenses.data?.names, ...report.names };
  const others = [...(bodies.data?.rows ?? []), ...(lenses.data?.rows ?? [])].filter(
    (row) =>
      row.works &&
      row.covered !== false &&
      row.settings[0]?.angles_deg &&
      !(row.lens === lens && row.body === body && row.mode === report.mode),
  );
  const rows = [...new Map(others.map((row) => [row.key, row])).values()];
  const chosen = rows.find(({ key }) => key === words.get("against")) ?? rows[0];
  const beside = useQuery({
    ...besideQuery(besideOf(report, chosen, practice)),
    enabled: chosen !== undefined,
  });
  if (!chosen) return null;
  return (
    <section className="becomes-words">
      <h2>Two rigs at equal framing</h2>
      <div className="equal-asked">
        <div className="frame-asked">
          <label htmlFor={id}>This rig beside</label>
          <Select
            id={id}
            popupMatchSelectWidth={false}
            value={chosen.key}
            options={rows.map((row) => ({
              value: row.key,
              label: [
                `${names[row.lens] ?? row.lens} on ${names[row.body] ?? row.body}`,
                modeName(row),
                chainOf(row.adapters, names),
              ].join(", "),
            }))}
            onChange={(against) => change({ against }, false)}
          />
        </div>
      </div>
      {beside.data && <Told beside={beside.data} units={practice.distances} />}
    </section>
  );
}

const ROUGHLY = "So near, or with so different a blur, equal depth holds only roughly: compare the last column.";

function besideOf(report: FrameReport, chosen: BecomingRow | undefined, practice: Chosen) {
  return {
    practice,
    lens: report.lens,
    body: report.body,
    via: viaOf(report.adapters),
    mode: report.mode,
    mm: report.focal_length_mm / report.magnification,
    aperture: report.f_number,
    distance_m: report.sharp_m ?? 10,
    other_lens: chosen?.lens ?? "",
    other_body: chosen?.body ?? "",
    other_via: viaOf(chosen?.adapters),
    ...(chosen ? { other_mode: chosen.mode } : {}),
  };
}

function Told({ beside, units }: { beside: Beside; units: "metric" | "imperial" }) {
  const { first, second, total_light_stops: light, exact, names } = beside;
  const name = ({ lens, body }: { lens: string; body: string }) => `${names[lens] ?? lens} on ${names[body] ?? body}`;
  const stops = signedStops(light);
  const noise =
    stops === "0"
      ? "Both gather the same light over the picture: the same noise at the same shutter."
      : `It gathers ${stops} stops of light over the picture: ${light > 0 ? "less" : "more"} noise.`;
  return (
    <>
      <table className="data-table stacks" data-table="beside">
        <TableHead
          columns={["rig", "frames as", "stands at", "set on the ring", "effective f/", "sharp from and to"]}
        />
        <tbody>
          {[first, second].map((side, index) => {
            const [near, far] = agreeing(
              [side.near_m === null ? null : side.near_m * 1000, side.far_m === null ? null : side.far_m * 1000],
              units,
            );
            return (
              <tr key={index} data-side={index === 0 ? "first" : "second"}>
                <th scope="row">{name(side)}</th>
                <td data-head="frames as">{`${whole(side.equivalent_mm)} mm`}</td>
                <td data-head="stands at">{distance(side.distance_m * 1000, units)}</td>
                <td data-head="set on the ring">
                  {setTo(side.f_number)}
                  {side.can_be_set ? "" : ` – it has ${aperture(side.widest)} to ${aperture(side.smallest)}`}
                </td>
                <td data-head="effective f/">{setTo(side.exposes_as)}</td>
                <td data-head="sharp from and to">
                  {side.near_m === null ? "too near to tell" : `${near ?? ""} – ${far ?? ""}`}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      <p data-noise={stops}>
        {noise}
        {exact ? "" : ` ${ROUGHLY}`}
      </p>
    </>
  );
}
