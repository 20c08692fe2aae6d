import { useQuery } from "@tanstack/react-query";
import Select from "antd/es/select";
import { useId } from "react";

import type { OutingReport, OutingWritten } from "../../api/client";
import { shelfQuery } from "../../api/queries";
import { AwaySaid } from "../../parts/Away";
import { TableHead } from "../../parts/TableHead";

interface Props {
  outing: OutingWritten;
  report: OutingReport;
  onChange: (changed: Partial<OutingWritten>) => void;
}

/** What goes into the bag, to be ticked off, with its weight. */
export function Packing({ outing, report, onChange }: Props) {
  const id = useId();
  const shelf = useQuery(shelfQuery("accessories"));
  const packed = new Set(outing.packed);
  const toggle = (piece: string) =>
    onChange({
      packed: packed.has(piece) ? outing.packed.filter((one) => one !== piece) : [...outing.packed, piece],
    });
  const left = report.packed.filter((one) => !packed.has(one.id)).length;
  return (
    <section>
      <h2>{left === 0 && report.packed.length > 0 ? "Packing list: all packed" : `Packing list: ${left} to pack`}</h2>
      <table className="data-table stacks" data-table="packing">
        <TableHead columns={["piece", "how many", "weighs", "for"]} />
        <tbody>
          {report.packed.map((one) => (
            <tr key={one.id} className={packed.has(one.id) ? "is-packed" : ""} data-packed={one.id}>
              <th scope="row">
                <label className="outing-tick">
                  <input type="checkbox" checked={packed.has(one.id)} onChange={() => toggle(one.id)} />
                  <span>
                    {one.name}
                    <AwaySaid id={one.id} />
                  </span>
                </label>
                {one.missing > 0 && (
                  <span className="outing-missing">
                    {one.rent_per_day === null
                      ? `${one.missing} not owned`
                      : `${one.missing} to rent, ${one.rent_per_day} a day`}
                  </span>
                )}
              </th>
              <td data-head="how many">{one.count}</td>
              <td data-head="weighs">{one.mass_g === null ? "not known" : `${one.mass_g} g`}</td>
              <td data-head="for">{one.says}</td>
            </tr>
          ))}
        </tbody>
        <tfoot>
          <tr>
            <th scope="row">together</th>
            <td />
            <td>{`${report.unweighed.length > 0 ? "at least " : ""}${Math.round(report.mass_g)} g`}</td>
            <td />
          </tr>
        </tfoot>
      </table>
      <p>
        <label htmlFor={id}>Also taken along</label>
        <Select
          id={id}
          mode="multiple"
          style={{ width: "100%" }}
          placeholder="filters, hoods, a strap …"
          showSearch={{ optionFilterProp: "label" }}
          value={[...outing.spare]}
          options={(shelf.data?.rows ?? []).map((row) => ({ value: row.id, label: row.name }))}
          onChange={(spare: string[]) => onChange({ spare })}
        />
      </p>
    </section>
  );
}
