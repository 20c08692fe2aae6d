import { useQuery, type UseQueryResult } from "@tanstack/react-query";
import Input from "antd/es/input/Input";
import { useState } from "react";

import {
  comparedMeasuresQuery,
  type DemandSet,
  keptMeasuresQuery,
  type MeasuredCompared,
  type MeasuredPage,
  type MeasuredUse,
  type OnBenchRig,
} from "../../../api/measuredQueries";
import { trialsQuery } from "../../../api/trialQueries";
import { SharpnessChart } from "../../../drawing/measured/SharpnessChart";
import { aperture, mm } from "../../../parts/format";
import { Plain } from "../../../parts/Plain";
import { Refused } from "../../../parts/Refused";
import { TableHead } from "../../../parts/TableHead";
import { useStrike } from "../../../parts/useStrike";
import { Strike } from "../Strike";
import { numberIn } from "../useKept";

interface Props {
  lens: string;
  body: string;
  via: string;
}

const USES = { paid_still: "paid still", film: "film", web: "web", play: "play" } as const;
const nameOf = (use: MeasuredUse) => USES[use];

/** What was measured with this rig: sharpness by stop, what each use demands, beside the verdicts by eye. */
export function KeptMeasures({ lens, body, via }: Props) {
  const [use, setUse] = useState<MeasuredUse>("paid_still");
  const [set, setSet] = useState({ width: "", away: "", lp: "" });
  const [width, away, lp] = [numberIn(set.width), numberIn(set.away), numberIn(set.lp)];
  const demand: DemandSet = {
    use,
    ...(width !== null && width > 0 ? { print_width_mm: width } : {}),
    ...(away !== null && away > 0 ? { viewing_mm: away } : {}),
    ...(lp !== null && lp > 0 ? { lp_per_mm: lp } : {}),
  };
  const kept = useQuery({ ...keptMeasuresQuery({ lens, body, via }, demand), placeholderData: (before) => before });
  const [other, setOther] = useState<OnBenchRig | null>(null);
  const compared = useQuery({
    ...comparedMeasuresQuery({ lens, body, via }, other ?? { lens, body, via }),
    enabled: other !== null,
  });
  const trials = useQuery(trialsQuery({ lens, body, via }));
  const strike = useStrike("measurements");
  if (kept.error) return <Refused error={kept.error} />;
  const page = kept.data;
  if (!page || page.kept.length === 0) {
    return <p className="measured-none">Nothing is kept yet of this rig. What is kept stands here, stop by stop.</p>;
  }
  const byEye = (one: MeasuredUse) => trials.data?.usable.find(({ row }) => row.use === one)?.says ?? "not tried";
  return (
    <section data-kept={page.kept.length} aria-busy={kept.isFetching}>
      <h2>Measured with this rig</h2>
      {page.says !== "" && <p className="warning">{page.says}</p>}
      {page.sharp.length > 0 && (
        <SharpnessChart
          sharp={page.sharp}
          usable={page.usable}
          beside={other === null ? [] : (compared.data?.sharp ?? [])}
          nameOf={nameOf}
          label="Sharpness against the aperture, in lp/mm: centre drawn through, corners dashed"
        />
      )}
      {page.usable.length > 0 && (
        <>
          <p className="measured-legend">
            lp/mm by stop: the centre drawn through, the corners dashed; dotted is what each use demands.
          </p>
          <table className="data-table">
            <TableHead columns={["for", "demand, lp/mm", "as measured", "by eye"]} />
            <tbody>
              {page.usable.map((one) => (
                <tr key={one.demand.use} data-usable={one.demand.use}>
                  <th scope="row">{USES[one.demand.use]}</th>
                  <td title={one.demand.working}>{mm(one.demand.centre_lp_per_mm, 0)}</td>
                  <td>{one.says}</td>
                  <td>{byEye(one.demand.use)}</td>
                </tr>
              ))}
            </tbody>
          </table>
          <div className="bench-choose">
            <div className="toggles" role="group" aria-label="The demand of">
              {(Object.keys(USES) as MeasuredUse[]).map((one) => (
                <Plain key={one} className="filter-toggle" aria-pressed={use === one} onClick={() => setUse(one)}>
                  {USES[one]}
                </Plain>
              ))}
            </div>
            {(
              [
                ["width", "looked at, mm wide"],
                ["away", "from, mm"],
                ["lp", "or set, lp/mm"],
              ] as const
            ).map(([name, label]) => (
              <label key={name} className="bench-field">
                <span>{label}</span>
                <Input
                  inputMode="decimal"
                  value={set[name]}
                  onChange={(event) => setSet({ ...set, [name]: event.target.value })}
                  data-field={`demand-${name}`}
                />
              </label>
            ))}
          </div>
          <p className="measured-legend">{page.usable.find((one) => one.demand.use === use)?.demand.working}</p>
        </>
      )}
      <Compared others={page.others} other={other} found={compared} onOther={setOther} />
      <ul className="measured-kept" aria-label="Measurements kept">
        {page.kept.map(({ record }) => (
          <li key={record.id} data-measurement={record.id}>
            <span>
              {`${record.day}, ${record.file}${record.f_number === null ? "" : `, ${aperture(record.f_number ?? 0)}`}: ${record.says}`}
            </span>
            <Strike what={record.file} onStrike={(reason) => strike.mutate({ id: record.id, reason })} />
          </li>
        ))}
      </ul>
      {strike.error && <Refused error={strike.error} />}
    </section>
  );
}

interface ComparedProps {
  others: MeasuredPage["others"];
  other: OnBenchRig | null;
  found: UseQueryResult<MeasuredCompared>;
  onOther: (rig: OnBenchRig | null) => void;
}

/** Another lens or another ring that was measured, stop by stop. */
function Compared({ others, other, found, onOther }: ComparedProps) {
  if (others.length === 0) return null;
  const is = (one: OnBenchRig) => other !== null && keyOf(one) === keyOf(other);
  return (
    <div>
      <div className="toggles" role="group" aria-label="Compare with">
        <span>Beside</span>
        {others.map((one) => (
          <Plain
            key={keyOf(one)}
            className="filter-toggle"
            aria-pressed={is(one)}
            onClick={() => onOther(is(one) ? null : { lens: one.lens, body: one.body, via: one.via })}
          >
            {one.name}
          </Plain>
        ))}
      </div>
      {found.error && <Refused error={found.error} />}
      {found.data && other !== null && (
        <>
          {found.data.why !== "" && <p>{`${found.data.why}.`}</p>}
          <ul>
            {found.data.differences.map((one) => (
              <li key={`${one.f_number} ${one.place}`} data-told={one.told}>
                {`${aperture(one.f_number)}, ${one.place}: ${one.says}`}
              </li>
            ))}
          </ul>
        </>
      )}
    </div>
  );
}

const keyOf = ({ lens, body, via }: OnBenchRig) => `${lens} ${body} ${via}`;
