import type { Route } from "../../api/client";
import type { Chosen } from "../../app/practice";
import { wideOf } from "../../drawing/scene";
import { distance, fNumber } from "../../parts/format";

/** Depth of field at a few distances, wide open. */
export function DepthOfField({ route, practice }: { route: Route; practice: Chosen }) {
  const { depth_of_field: depths } = wideOf(route);
  const [first] = depths;
  if (!first) return null;
  return (
    <section>
      <h2>{`Depth of field at ${fNumber(first.f_number)} on the ring`}</h2>
      <table className="depths">
        <thead>
          <tr>
            <th scope="col">focused at</th>
            <th scope="col">from</th>
            <th scope="col">to</th>
          </tr>
        </thead>
        <tbody>
          {depths.map((depth) => (
            <tr key={depth.subject_mm}>
              <td>{distance(depth.subject_mm, practice.distances)}</td>
              <td>{distance(depth.near_mm, practice.distances)}</td>
              <td>{depth.far_mm === null ? "infinity" : distance(depth.far_mm, practice.distances)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
