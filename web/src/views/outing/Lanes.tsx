import { Link } from "react-router";

import type { OutingReport } from "../../api/client";
import { smallOf, Stack } from "../../drawing/Stack";

type Order = OutingReport["given"];

interface Props {
  report: OutingReport;
  order: Order;
}

const SCALE = 0.62;

/** A lane for each body, a column for each shot: what stands where, and what is swapped before. */
export function Lanes({ report, order }: Props) {
  const shotAt = (step: Order["steps"][number]) => report.shots[report.numbers[step.shot] ?? -1];
  const bodies = [...new Set(order.steps.flatMap((step) => shotAt(step)?.body ?? []))];
  return (
    <div className="wide-table">
      <table className="lanes" data-order={order === report.given ? "given" : "least"}>
        <thead>
          <tr>
            <td />
            {order.steps.map((step, column) => (
              <th key={column} scope="col">
                {shotAt(step)?.name}
                <span className="lane-swaps" data-swaps={step.swaps}>
                  {step.swaps > 0 ? `${step.swaps} ${step.swaps === 1 ? "swap" : "swaps"}` : "nothing to swap"}
                </span>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {bodies.map((body) => (
            <tr key={body}>
              <th scope="row">{report.names[body] ?? body}</th>
              {order.steps.map((step, column) => (
                <td
                  key={column}
                  className={[
                    "lane-cell",
                    shotAt(step)?.body === body ? "taking" : "",
                    step.swaps > 0 && shotAt(step)?.body === body ? "swapped" : "",
                  ].join(" ")}
                >
                  <Standing report={report} body={body} standing={step.standing} />
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

interface StandingProps {
  report: OutingReport;
  body: string;
  standing: Order["steps"][number]["standing"];
}

/** What stands on one body: a whole rig is drawn, what is left of one is named. */
function Standing({ report, body, standing }: StandingProps) {
  const elements = standing.find((one) => one.body === body)?.elements ?? [];
  const pieces = elements.flatMap((one) => one.split(" "));
  if (pieces.length === 0) return <span className="lane-bare">bare</span>;
  const shot = report.shots.find(
    (one) => one.body === body && [...[...one.adapters].reverse(), one.lens ?? ""].join(" ") === pieces.join(" "),
  );
  const named = pieces.map((id) => report.names[id] ?? id).join(" + ");
  if (!shot?.section || shot.lens === null) return <span className="lane-bare">{named}</span>;
  const scene = {
    section: shot.section,
    pieces: report.pieces,
    lens: shot.lens,
    body,
    adapters: shot.adapters,
    route: null,
  };
  return (
    <span className="lane-stack" title={named}>
      <Stack small={smallOf(scene)} scale={SCALE} width={128} height={56} />
      <Link className="lane-lens" to={`/setup/${shot.rig}`}>
        {report.names[shot.lens] ?? shot.lens}
      </Link>
    </span>
  );
}
