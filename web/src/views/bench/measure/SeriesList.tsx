import { useMutation } from "@tanstack/react-query";

import type { BenchQuantity, PiecePage, ReadingSeries } from "../../../api/benchQueries";
import { client, unwrap } from "../../../api/client";
import { mm } from "../../../parts/format";
import { Refused } from "../../../parts/Refused";
import { Strike } from "../Strike";
import { SOURCES } from "./sources";

interface Props {
  page: PiecePage;
  quantity: BenchQuantity;
  onKept: (page: PiecePage) => Promise<void>;
}

/** What was read of this length before: kept, and struck out with a reason rather than deleted. */
export function SeriesList({ page, quantity, onKept }: Props) {
  const strike = useMutation({
    mutationFn: async ({ id, ...body }: { id: string; reason: string; reading: number | null }) =>
      unwrap(await client.POST("/api/v1/bench/series/{id}/strike", { params: { path: { id } }, body })),
    onSuccess: onKept,
  });
  const confirm = useMutation({
    mutationFn: async ({ id, reading }: { id: string; reading: number }) =>
      unwrap(
        await client.POST("/api/v1/bench/series/{id}/confirm", {
          params: { path: { id } },
          body: { reading },
        }),
      ),
    onSuccess: onKept,
  });
  const kept = page.series.filter((one) => one.quantity === quantity.quantity);
  if (kept.length === 0) return null;
  return (
    <section data-section="series">
      <h2>Read before</h2>
      <ul className="bench-series">
        {kept.map((one) => (
          <li key={one.id} data-series={one.id} className={one.struck ? "struck" : ""}>
            <Told
              series={one}
              slips={page.slips[one.id] ?? []}
              onStrike={(reading, reason) => strike.mutate({ id: one.id, reading, reason })}
              onConfirm={(reading) => confirm.mutate({ id: one.id, reading })}
            />
          </li>
        ))}
      </ul>
      {strike.error && <Refused error={strike.error} />}
      {confirm.error && <Refused error={confirm.error} />}
    </section>
  );
}

function Told({
  series,
  slips,
  onStrike,
  onConfirm,
}: {
  series: ReadingSeries;
  slips: readonly number[];
  onStrike: (reading: number | null, reason: string) => void;
  onConfirm: (reading: number) => void;
}) {
  const gone = series.struck;
  return (
    <>
      <p>
        <strong>{series.day}</strong>
        {`, ${SOURCES[series.source]}`}
        {gone ? `; struck out: ${series.struck_because}` : ""}
      </p>
      <ol>
        {series.readings.map((one, index) => (
          <li key={index} className={one.struck ? "struck" : ""}>
            <span>{`${mm(one.mm)}${one.struck ? ` (${one.struck})` : ""}`}</span>
            {!gone && !one.struck && (
              <Strike what={mm(one.mm)} onStrike={(reason) => onStrike(index, reason)} />
            )}
            {slips.includes(index) && (
              <button type="button" className="unfold" onClick={() => onConfirm(index)} data-action="confirm">
                it is right
              </button>
            )}
          </li>
        ))}
      </ol>
      {!gone && (
        <Strike what={`the readings of ${series.day}`} onStrike={(reason) => onStrike(null, reason)} />
      )}
    </>
  );
}
