import type { ShelfRow } from "../../api/client";
import type { Kind } from "../../api/queries";
import { money } from "../../parts/format";
import { KIND_WORDS } from "../../parts/labels";
import { Printed } from "../../parts/Printed";

interface Props {
  kind: Kind;
  rows: readonly ShelfRow[];
  total: number;
  currency: string;
}

/** A whole shelf as a table, its head on every page. */
export function ShelfPaper({ kind, rows, total, currency }: Props) {
  return (
    <Printed name="shelf" usual>
      {() => (
        <>
          <h1>{KIND_WORDS[kind].many}</h1>
          <p>{rows.length === total ? `${total} in all` : `${rows.length} of ${total}`}</p>
          <table>
            <thead>
              <tr>
                <th scope="col">Name</th>
                <th scope="col">What it is</th>
                <th scope="col">Mount</th>
                <th scope="col">In the kit</th>
                <th scope="col" className="number">
                  Weight
                </th>
                <th scope="col" className="number">
                  Price
                </th>
              </tr>
            </thead>
            <tbody>
              {rows.map((row) => (
                <tr key={row.id}>
                  <td>{row.name}</td>
                  <td>{[row.detail, ...row.tags].filter(Boolean).join(", ")}</td>
                  <td>{row.mount}</td>
                  <td>
                    {[
                      row.owned ? `${row.owned} owned` : "",
                      row.borrowed ? `${row.borrowed} borrowed` : "",
                      row.measured ? "measured" : "",
                      row.assumed ? `${row.assumed} assumed` : "",
                    ]
                      .filter(Boolean)
                      .join(", ")}
                  </td>
                  <td className="number">{row.mass_g === null ? "not known" : `${row.mass_g} g`}</td>
                  <td className="number">{row.price === null ? "not known" : money(row.price, currency)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </>
      )}
    </Printed>
  );
}
