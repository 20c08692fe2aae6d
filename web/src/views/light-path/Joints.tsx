import "./Joints.css";

import type { MatchReport, Route } from "../../api/client";
import { Figure } from "../../parts/Figure";
import { knownDistance, mm, percent } from "../../parts/format";
import { headed } from "../../parts/words";

/** What the joints bear and how far they give, and what can be set in the chain. */
export function Joints({ report, route, units }: { report: MatchReport; route: Route; units: "metric" | "imperial" }) {
  const name = (id: string) => report.pieces[id]?.name ?? id;
  return (
    <section>
      <h2>Joints and settings</h2>
      <table className="depths joints">
        <tbody>
          {route.loads.map((load, index) => (
            <tr key={load.link}>
              <th scope="row">{`${headed("mount_load")} at ${name(load.link)}`}</th>
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
            <th scope="row">{`${headed("mount_play")}, all joints`}</th>
            <td>
              {route.play.displacement_mm === null ? (
                "not assessed: that of one is not known"
              ) : (
                <Figure
                  of="play.displacement_mm"
                  label={`${percent(route.play.fraction_of_window ?? 0)} of the depth of focus`}
                  value={`${mm(route.play.displacement_mm)} mm`}
                />
              )}
            </td>
          </tr>
          {route.ranges.map((range) => (
            <tr key={range.link}>
              <th scope="row">{name(range.link)}</th>
              <td>{range.kind === "helicoid" ? helicoidOf(range, units) : range.positions.join(", ")}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {route.loads.length === 0 && (
        <p>The load on the mount is not assessed: a weight or a centre of mass is not known.</p>
      )}
    </section>
  );
}

/** How far a helicoid is opened for infinity, and the near limits closed and open. */
function helicoidOf(range: Route["ranges"][number], units: "metric" | "imperial"): string {
  const { for_infinity_mm: wanted } = range;
  const opened =
    wanted === null ? "no infinity" : wanted === 0 ? "closed for infinity" : `open by ${mm(wanted)} mm for infinity`;
  const [closed, open] = [range.near_closed_mm, range.near_open_mm].map((near) => knownDistance(near, units));
  return `${opened}; closest focus ${closed ?? ""} closed, ${open ?? ""} open`;
}
