import type { SetUp } from "../../api/client";
import { TableHead } from "../../parts/TableHead";

/** What the stabiliser is told, at each mark of a zoom. */
export function Entered({ report }: { report: SetUp }) {
  const { entries } = report;
  if (entries.length === 0) return null;
  return (
    <section>
      <h2>Stabiliser focal length</h2>
      <table className="data-table" data-table="entries">
        <TableHead columns={["on the ring", "enter"]} />
        <tbody>
          {entries.map((one) => (
            <tr key={one.focal_length_mm}>
              <th scope="row">{`${one.focal_length_mm} mm`}</th>
              <td>{`${one.entry_mm} mm`}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
