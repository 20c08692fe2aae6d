import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import Button from "antd/es/button";
import { useState } from "react";

import { client, type SetUp, unwrap } from "../../api/client";
import { cornersQuery, historyQuery } from "../../api/queries";
import { percent, today } from "../../parts/format";
import { keepCircle } from "../../parts/measuredCircle";
import { Refused } from "../../parts/Refused";
import { askedOf } from "../../parts/rig";
import { Plain } from "../../parts/Plain";

type Seen = Record<string, boolean | null>;

/** The corners at each step of the stabiliser's travel: noted, and the circle that they measure. */
export function Corners({ report }: { report: SetUp }) {
  const rig = askedOf(report);
  const queries = useQueryClient();
  const options = cornersQuery(rig);
  const kept = useQuery(options);
  const [seen, setSeen] = useState<Seen>({});
  const note = useMutation({
    mutationFn: async () => {
      const said = Object.entries(seen).flatMap(([travel, dark]) =>
        dark === null ? [] : [{ travel: Number(travel), dark }],
      );
      const body = { day: today(), area: report.area, seen: said };
      return unwrap(await client.POST("/api/v1/corners", { params: { query: rig }, body }));
    },
    onSuccess: (found) => {
      queries.setQueryData(options.queryKey, found);
      setSeen({});
      write.reset();
      return queries.invalidateQueries({ queryKey: historyQuery.queryKey });
    },
  });
  const write = useMutation({
    mutationFn: async () => {
      const circle = kept.data?.latest?.circle;
      if (circle) await keepCircle(report.lens, circle);
    },
    onSuccess: () => queries.invalidateQueries(),
  });
  if (report.travel_steps.length === 0) return null;
  const steps = [...new Set([0, ...report.travel_steps])].sort((one, other) => one - other);
  const latest = kept.data?.latest;
  const [check] = kept.data?.checks ?? [];
  return (
    <section data-section="corners">
      <h2>Corners at the ends of the stabiliser’s travel</h2>
      <table className="data-table corners">
        <tbody>
          {steps.map((step) => (
            <tr key={step}>
              <th scope="row">{step === 0 ? "at rest" : `at ${percent(step)}`}</th>
              <td>
                <span className="toggles" role="group" aria-label={`Corner at ${percent(step)}`}>
                  {([false, true] as const).map((dark) => (
                    <Plain
                      key={String(dark)}
                      className="filter-toggle"
                      aria-pressed={seen[step] === dark}
                      onClick={() => setSeen({ ...seen, [step]: seen[step] === dark ? null : dark })}
                    >
                      {dark ? "dark" : "clean"}
                    </Plain>
                  ))}
                </span>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <Button
        loading={note.isPending}
        disabled={!Object.values(seen).some((dark) => dark != null)}
        onClick={() => note.mutate()}
      >
        Note what I saw
      </Button>
      {note.error && <Refused error={note.error} />}
      {latest && check && (
        <p role="status" data-corners={check.day}>
          {`${check.day}: ${latest.says} `}
          {latest.circle?.image_circle_mm != null && (
            <Button loading={write.isPending} onClick={() => write.mutate()}>
              {write.isSuccess ? "Written to the lens" : "Write it to the lens as measured"}
            </Button>
          )}
        </p>
      )}
      {write.error && <Refused error={write.error} />}
    </section>
  );
}
