import type { FrameReport } from "../../api/client";
import type { Chosen } from "../../app/practice";
import { agreeing, distance, fNumber, mm } from "../../parts/format";
import { headed } from "../../parts/words";
import { TableHead } from "../../parts/TableHead";

/** Depth of field at every stop where it is focused now, and what becomes of infinity. */
export function Depths({ report, practice }: { report: FrameReport; practice: Chosen }) {
  const at = report.sharp_m ?? 10;
  const nearest = Math.min(...report.depth.map(({ distance_m: one }) => Math.abs(one - at)));
  const rows = report.depth.filter(({ distance_m: one }) => Math.abs(one - at) === nearest);
  const [first] = rows;
  if (!first) return null;
  const length = (metres: number | null) =>
    metres === null ? "infinity" : distance(metres * 1000, practice.distances);
  return (
    <section>
      <h2>{`${headed("depth_of_field")}, focused at ${length(first.distance_m)}`}</h2>
      <div className="wide-table">
        <table className="data-table" data-table="depth">
          <TableHead columns={["on the ring", "from", "to", "in front : behind", "hyperfocal", "disc of a star"]} />
          <tbody>
            {rows.map((row) => {
              const [near, , far] = agreeing(
                [row.near_m * 1000, row.distance_m * 1000, row.far_m === null ? null : row.far_m * 1000],
                practice.distances,
              );
              const front = row.front_share;
              return (
                <tr key={row.f_number} aria-current={row.f_number === report.f_number ? "true" : undefined}>
                  <th scope="row">{fNumber(row.f_number)}</th>
                  <td>{near}</td>
                  <td>{far}</td>
                  <td>
                    {front === null ? "no end behind" : `${Math.round(front * 100)} : ${100 - Math.round(front * 100)}`}
                  </td>
                  <td>{length(row.hyperfocal_m)}</td>
                  <td>{`${mm(row.infinity_blur_mm, 3)} mm`}</td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </div>
    </section>
  );
}
