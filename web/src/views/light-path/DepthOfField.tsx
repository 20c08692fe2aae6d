import type { Route } from "../../api/client";
import type { Chosen } from "../../app/practice";
import { wideOf } from "../../drawing/scene";
import { agreeing, fNumber } from "../../parts/format";
import { headed } from "../../parts/words";

/** Depth of field at a few distances, wide open. */
export function DepthOfField({ route, practice }: { route: Route; practice: Chosen }) {
  const { depth_of_field: depths } = wideOf(route);
  const [first] = depths;
  if (!first) return null;
  return (
    <section>
      <h2>{`${headed("depth_of_field")} at ${fNumber(first.f_number)} on the ring`}</h2>
      <table className="depths">
        <thead>
          <tr>
            <th scope="col">focused at</th>
            <th scope="col">from</th>
            <th scope="col">to</th>
          </tr>
        </thead>
        <tbody>
          {depths.map(({ subject_mm: subject, near_mm: near, far_mm: far }) => {
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
    </section>
  );
}
