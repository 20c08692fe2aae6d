import "./WhatWasUsed.css";

import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";

import { addressOf } from "../../../api/client";
import { type UsedReport, usedQuery } from "../../../api/pieceQueries";
import { usePractices } from "../../../app/Practices";
import { useScreen } from "../../../app/screen";
import { Failed } from "../../../parts/Failed";
import { money } from "../../../parts/format";
import { rigPath } from "../../../parts/rig";
import { TableHead } from "../../../parts/TableHead";

/** What was used, rig by rig; and what would go with each lens. */
export default function WhatWasUsed() {
  const practice = usePractices().own;
  const used = useQuery(usedQuery(practice));
  useScreen({
    title: "What was used",
    answer: used.data ? "used" : undefined,
    busy: used.isPending,
    className: "used",
  });
  if (used.error) return <Failed error={used.error} onRetry={() => void used.refetch()} />;
  if (!used.data) return <div className="sheet skeleton" aria-busy="true" />;
  const { rigs, lenses, currency } = used.data;
  const most = Math.max(1, ...rigs.map(({ frames }) => frames));
  return (
    <div className="used-page">
      <h1>{rigs.length === 0 ? "Nothing was logged yet." : `${rigs.length} rigs were used.`}</h1>
      {rigs.length > 0 && (
        <table className="data-table stacks" data-table="used">
          <TableHead columns={["rig", "frames", "outings", "last used", "cost", ""]} />
          <tbody>
            {rigs.map((rig) => (
              <tr key={`${rig.lens} ${rig.via.join(",")} ${rig.body}`} data-rig={`${rig.lens} ${rig.body}`}>
                <th scope="row">
                  <Link to={rigPath({ lens: rig.lens, body: rig.body, adapters: rig.via })}>
                    {`${rig.rig_name} on ${rig.body_name}`}
                  </Link>
                </th>
                <td data-head="frames">{rig.frames}</td>
                <td data-head="outings">{rig.outings}</td>
                <td data-head="last used">{rig.last}</td>
                <td data-head="cost">{rig.price === null ? "not known" : money(rig.price, currency)}</td>
                <td>
                  <svg className="used-bar" viewBox="0 0 120 10" aria-hidden="true">
                    <path d={`M0 5h${((120 * rig.frames) / most).toFixed(1)}`} />
                  </svg>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <Lenses lenses={lenses} />
      <p className="message-actions">
        <a href={addressOf("/api/v1/pieces/used/table", { practice })}>Table (CSV)</a>
      </p>
    </div>
  );
}

function Lenses({ lenses }: { lenses: UsedReport["lenses"] }) {
  if (lenses.length === 0) return null;
  const unused = lenses.filter((lens) => lens.unused).length;
  return (
    <section>
      <h2>{unused === 0 ? "If a lens were sold" : `${unused} lenses were not used for two years; if one were sold`}</h2>
      <ul className="used-lenses">
        {lenses.map((lens) => (
          <li key={lens.lens} data-lens={lens.lens} data-unused={lens.unused}>
            <b>
              <Link to={`/log/record/lenses/${lens.lens}`}>{lens.name}</Link>
            </b>
            <span>{lens.last === null ? "never logged" : `last used ${lens.last}`}</span>
            <span>
              {[
                lens.rigs.length > 0 && `kept rigs: ${lens.rigs.join(", ")}`,
                lens.views.length > 0
                  ? `views that nothing else gives: ${lens.views.join(", ")}`
                  : lens.bodies.length > 0
                    ? "every view of it is given by another lens"
                    : "it works on nothing of yours now",
              ]
                .filter(Boolean)
                .join("; ")}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
