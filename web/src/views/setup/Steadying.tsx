import type { SetUp } from "../../api/client";
import { TableHead } from "../../parts/TableHead";

/** Which mode of the stabiliser goes with which use. */
export function Steadying({ report }: { report: SetUp }) {
  const { steadying } = report;
  if (steadying.length === 0) return null;
  return (
    <section>
      <h2>Stabiliser, by what is done</h2>
      <table className="data-table" data-table="steadying">
        <TableHead columns={["for", "set it to"]} />
        <tbody>
          {steadying.map(({ use, mode, where, says }) => (
            <tr key={use}>
              <th scope="row">{use}</th>
              <td>
                {mode ?? "off, or as stated nowhere"}
                {where ? ` (${where})` : ""}
                {says && <span className="camera-where">{says}</span>}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
