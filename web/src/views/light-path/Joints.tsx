import type { MatchReport, Route } from "../../api/client";
import { Figure } from "../../parts/Figure";
import { distance, mm, percent } from "../../parts/format";

/** What the joints bear and how far they give, and what can be set in the chain. */
export function Joints({
  report,
  route,
  units,
}: {
  report: MatchReport;
  route: Route;
  units: "metric" | "imperial";
}) {
  const name = (id: string) => report.pieces[id]?.name ?? id;
  const near = (value: number | null) => (value === null ? "unknown" : distance(value, units));
  return (
    <section>
      <h2>Joints and settings</h2>
      <table className="depths joints">
        <tbody>
          {route.loads.map((load, index) => (
            <tr key={load.link}>
              <th scope="row">{`Pull on ${name(load.link)}`}</th>
              <td>
                <Figure
                  of={`joint ${index + 1}.loads.moment_nm`}
                  label={load.rating_nm === null ? "no rating known" : `rated for ${mm(load.rating_nm)} N·m`}
                  value={`${mm(load.moment_nm)} N·m`}
                />
              </td>
            </tr>
          ))}
          <tr>
            <th scope="row">Play of all joints</th>
            <td>
              <Figure
                of="play.displacement_mm"
                label={`${percent(route.play.fraction_of_window)} of the depth of focus`}
                value={`${mm(route.play.displacement_mm)} mm`}
              />
            </td>
          </tr>
          {route.ranges.map((range) => (
            <tr key={range.link}>
              <th scope="row">{name(range.link)}</th>
              <td>
                {range.kind === "helicoid"
                  ? `${range.for_infinity_mm === null ? "no infinity" : range.for_infinity_mm === 0 ? "closed for infinity" : `open by ${mm(range.for_infinity_mm)} mm for infinity`}; near limit ${near(range.near_closed_mm)} closed, ${near(range.near_open_mm)} open`
                  : range.positions.join(", ")}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {route.loads.length === 0 && <p>The pull on the joints is not assessed: a mass is not known.</p>}
    </section>
  );
}
