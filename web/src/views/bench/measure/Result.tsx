import { useMutation, useQuery } from "@tanstack/react-query";
import Button from "antd/es/button";

import {
  type BenchQuantity,
  type Measurement,
  measurementQuery,
  type PieceOf,
  type PiecePage,
  type ReadingsSaid,
  type SeriesReport,
  type SeriesWritten,
} from "../../../api/benchQueries";
import { client, unwrap } from "../../../api/client";
import { useAddress } from "../../../app/useAddress";
import { EffectTold } from "../../../parts/EffectTold";
import { mm, today } from "../../../parts/format";
import { labelOf } from "../../../parts/labels";
import { Refused } from "../../../parts/Refused";
import { SOURCES } from "./sources";

interface Props {
  asked: PieceOf;
  quantity: BenchQuantity;
  page: PiecePage;
  said: ReadingsSaid | null;
  written: SeriesWritten;
  settled: boolean;
  onKeep: () => Promise<PiecePage | null>;
  onWritten: (page: PiecePage) => Promise<void>;
}

/** What the readings say, and the one button that writes it, with what it changes told first. */
export function Result(props: Props) {
  const { asked, quantity, page, said, written, settled, onKeep, onWritten } = props;
  const [address] = useAddress();
  const report = said?.report ?? null;
  const contradicted = report?.contradicted ?? false;
  const source = said?.source ?? written.source;
  // A likely slip of the hand is settled before anything is written.
  const waiting = Object.keys(report?.fields ?? {}).length === 0;
  const found: Measurement = {
    fields: report?.fields ?? {},
    day: today(),
    says: `${report?.says ?? ""}, ${SOURCES[source]}`,
    version: page.version,
  };
  const effect = useQuery({
    ...measurementQuery(asked, found, address.practice),
    enabled: report !== null && settled && !waiting,
  });
  const write = useMutation({
    mutationFn: async () => {
      const kept = await onKeep();
      const { kind, id } = asked;
      const body = { ...found, version: kept?.version ?? found.version };
      return unwrap(await client.POST("/api/v1/bench/write", { params: { query: { kind, id } }, body }));
    },
    onSuccess: onWritten,
  });
  if (report === null) {
    return (
      <section data-result="none">
        <h2>What they say</h2>
        <p className="route-gives">{statedOf(quantity)}</p>
      </section>
    );
  }
  const same = said?.changes.every(({ before, after }) => before === after) ?? true;
  return (
    <section data-result={settled ? "settled" : "busy"}>
      <h2>What they say</h2>
      <Parts report={report} />
      {written.readings.length !== 1 && (
        <p>{`Between the least and the greatest reading: ${mm(report.measured.spread_mm)} mm.`}</p>
      )}
      {report.slip_says && (
        <p className="bench-slip" data-slips={report.slips.length}>
          {report.slip_says}
        </p>
      )}
      {report.wedge_says && <p data-wedge>{report.wedge_says}</p>}
      {report.pooled_mm !== null && (
        <p data-pooled>
          {`Together with the earlier readings, which agree: ${mm(report.pooled_mm, 3)} `}
          {`± ${mm(report.pooled_uncertainty_mm ?? 0, 3)} mm.`}
        </p>
      )}
      <p data-interval>{rangeOf(report)}</p>
      {contradicted && <p className="warning">{report.nominal_says}</p>}
      <h2>Written to the piece</h2>
      {waiting && <p>Nothing yet: first say what that reading is.</p>}
      <ul className="bench-changes">
        {said?.changes.map(({ name, before, after }) => (
          <li key={name} data-change={name}>
            <span>{labelOf(name)}</span>
            <span>{`${before === null ? "not stated" : mm(before, 3)} → ${mm(after, 3)} mm`}</span>
          </li>
        ))}
      </ul>
      {source === "simulated" && (
        <p className="warning">These are readings of an invented copy: write them to a piece of the demo alone.</p>
      )}
      <div aria-live="polite" data-effect={effect.isSuccess || waiting ? "settled" : "busy"}>
        {effect.data && <EffectTold effect={effect.data} kind={asked.kind} />}
        {effect.error && <Refused error={effect.error} />}
      </div>
      <Button
        type="primary"
        disabled={!settled || contradicted || same || waiting}
        loading={write.isPending}
        onClick={() => write.mutate()}
        data-action="write"
      >
        {same && !waiting ? "It says so already" : "Write it to the piece"}
      </Button>
      {write.error && <Refused error={write.error} />}
    </section>
  );
}

function rangeOf({ measured }: SeriesReport): string {
  const [low = 0, high = 0] = measured.interval_mm;
  return `Surely (95 %) between ${mm(low, 3)} and ${mm(high, 3)} mm.`;
}

function statedOf({ nominal_mm: nominal, tolerance_mm: tolerance }: BenchQuantity): string {
  if (nominal === null) return "Nobody stated it.";
  return `Stated: ${mm(nominal)} mm${tolerance === null ? "" : ` ± ${mm(tolerance)}`}.`;
}

/** The uncertainty by its parts, the largest the longest. */
function Parts({ report }: { report: SeriesReport }) {
  const most = Math.max(...report.parts.map((one) => one.standard_uncertainty_mm), 1e-6);
  return (
    <table className="data-table bench-parts">
      <tbody>
        {report.parts.map((one) => (
          <tr key={one.of}>
            <th scope="row">{one.of}</th>
            <td>
              <svg className="bench-part" width="90" height="8" aria-hidden="true">
                <rect width={(90 * one.standard_uncertainty_mm) / most} height="8" />
              </svg>
            </td>
            <td>{`± ${mm(one.standard_uncertainty_mm, 3)}`}</td>
          </tr>
        ))}
        <tr>
          <th scope="row">all together</th>
          <td>{report.measured.assumed ? "one reading: its scatter is assumed" : ""}</td>
          <td>{`± ${mm(report.measured.standard_uncertainty_mm, 3)}`}</td>
        </tr>
      </tbody>
    </table>
  );
}
