import type { MatchReport, Route } from "../../api/client";
import type { Chosen } from "../../app/practice";
import { wideOf } from "../../drawing/scene";
import { agreeing, fNumber, mm } from "../../parts/format";
import { Printed, PrintButton } from "../../parts/Printed";
import { capital, headed } from "../../parts/words";
import { chainName } from "./chain";
import { TableHead } from "../../parts/TableHead";

interface Props {
  report: MatchReport;
  route: Route;
  practice: Chosen;
}

/** Depth of field at a few distances, wide open; on paper with what it was computed for. */
export function DepthOfField({ report, route, practice }: Props) {
  const { depth_of_field: depths } = wideOf(route);
  const [first] = depths;
  if (!first) return null;
  const title = `${headed("depth_of_field")} at ${fNumber(first.f_number)} on the ring`;
  const name = (id: string) => report.pieces[id]?.name ?? id;
  return (
    <section>
      <h2>{title}</h2>
      <DepthTable route={route} practice={practice} />
      <PrintButton sheet="depth">Print this table</PrintButton>
      <Printed name="depth">
        {() => (
          <>
            <h1>{title}</h1>
            <p>
              {`${name(report.lens)} on ${name(report.body)}, ${chainName(report, route)}. `}
              {`${capital(route.becomes)}.`}
            </p>
            <p>
              {`${headed("circle_of_confusion")} ${mm(route.circle_of_confusion_mm, 4)} mm; `}
              {`sensor in use: ${route.coverage.mode}.`}
            </p>
            <DepthTable route={route} practice={practice} />
          </>
        )}
      </Printed>
    </section>
  );
}

function DepthTable({ route, practice }: Omit<Props, "report">) {
  return (
    <table className="depths">
      <TableHead columns={["focused at", "from", "to"]} />
      <tbody>
        {wideOf(route).depth_of_field.map(({ subject_mm: subject, near_mm: near, far_mm: far }) => {
          const [at, from, to] = agreeing([subject, near, far], practice.distances);
          return (
            <tr key={subject}>
              <td>{at}</td>
              <td>{from}</td>
              <td>{to}</td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
