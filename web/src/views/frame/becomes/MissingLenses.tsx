import type { WishReport } from "../../../api/client";
import { mm } from "../../../parts/format";
import { headed } from "../../../parts/words";
import { setTo } from "./words";

/** The lens that would give it, whether or not it exists: alone, and behind glass. */
export function MissingLenses({ report }: { report: WishReport }) {
  return (
    <details className="becomes-words" open={report.own.length + report.buy.length === 0} data-table="missing">
      <summary>A lens that would give it</summary>
      <table className="data-table">
        <thead>
          <tr>
            <th scope="col">sensor in use</th>
            <th scope="col">through</th>
            <th scope="col">engraved</th>
            <th scope="col">{`${headed("image_circle")} from`}</th>
          </tr>
        </thead>
        <tbody>
          {report.missing.map((one) => (
            <tr key={`${one.mode} ${one.magnification}`}>
              <th scope="row">{one.mode === "full" ? "whole sensor" : one.mode}</th>
              <td>{one.magnification === 1 ? "no glass" : `${one.magnification} × glass`}</td>
              <td>
                {`${mm(one.focal_length_mm, 1)} mm${one.f_number === null ? "" : ` ${setTo(one.f_number)} or faster`}`}
              </td>
              <td>{`${mm(one.image_circle_mm, 1)} mm`}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </details>
  );
}
