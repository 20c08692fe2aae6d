import { useMutation } from "@tanstack/react-query";

import type { BenchQuantity, PiecePage, ReadingSeries } from "../../../api/benchQueries";
import { client, unwrap } from "../../../api/client";
import type { components } from "../../../api/schema";
import { mm } from "../../../parts/format";
import { Refused } from "../../../parts/Refused";
import { useStrike } from "../../../parts/useStrike";
import { Strike } from "../Strike";
import { SOURCES } from "./sources";
import { Plain } from "../../../parts/Plain";

type Marked = components["schemas"]["ReadingMarked"];

interface Props {
  page: PiecePage;
  quantity: BenchQuantity;
  onKept: (page: PiecePage) => Promise<void>;
}

/** What was read of this length before: kept, and struck out with a reason rather than deleted. */
export function SeriesList({ page, quantity, onKept }: Props) {
  const strike = useStrike("reading_series");
  const mark = useMutation({
    mutationFn: async ({ id, place, ...body }: { id: string; place: number } & Marked) =>
      unwrap(
        await client.PUT("/api/v1/bench/series/{id}/readings/{place}", {
          params: { path: { id, place } },
          body,
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
              onStrike={(reason) => strike.mutate({ id: one.id, reason })}
              onMark={(place, marked) => mark.mutate({ id: one.id, place, ...marked })}
            />
          </li>
        ))}
      </ul>
      {strike.error && <Refused error={strike.error} />}
      {mark.error && <Refused error={mark.error} />}
    </section>
  );
}

function Told({
  series,
  slips,
  onStrike,
  onMark,
}: {
  series: ReadingSeries;
  slips: readonly number[];
  onStrike: (reason: string) => void;
  onMark: (place: number, marked: Marked) => void;
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
              <Strike what={mm(one.mm)} onStrike={(reason) => onMark(index, { struck: reason, confirmed: false })} />
            )}
            {slips.includes(index) && (
              <Plain
                className="unfold"
                onClick={() => onMark(index, { struck: "", confirmed: true })}
                data-action="confirm"
              >
                it is right
              </Plain>
            )}
          </li>
        ))}
      </ol>
      {!gone && <Strike what={`the readings of ${series.day}`} onStrike={onStrike} />}
    </>
  );
}
