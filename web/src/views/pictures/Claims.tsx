import { useMutation, useQueryClient } from "@tanstack/react-query";
import Button from "antd/es/button";

import { client } from "../../api/client";
import type { PicturesReport } from "../../api/logQueries";
import { Refused } from "../../parts/Refused";
import { TableHead } from "../../parts/TableHead";
import { ABOUT_PICTURES } from "./useSettling";

type Signs = PicturesReport["cameras"][number]["signs"];

/** What files claim, and what it was: a chip's name, a code's, the last lens's focal length. */
export function Claims({ report }: { report: PicturesReport }) {
  const queries = useQueryClient();
  const keep = useMutation({
    mutationFn: (signs: Signs) => client.POST("/api/v1/log/cameras", { body: signs }),
    onSuccess: () => queries.invalidateQueries({ predicate: ABOUT_PICTURES }),
  });
  const rows = report.claimed.filter(({ lens, was }) => lens !== "" || was.length !== 1);
  const kept = report.cameras.flatMap(({ signs }) => signs.says.map((says) => ({ signs, says })));
  if (rows.length + kept.length === 0) return null;
  const entryWith = (rig: string) => report.entries.find((entry) => entry.rig === rig);
  const mean = (claim: PicturesReport["claimed"][number], rig: string) => {
    const signs = report.cameras.find((one) => one.signs.body === claim.body)?.signs;
    const entry = entryWith(rig);
    if (!signs || !entry) return;
    const says = {
      lens: claim.lens || null,
      focal_length_mm: claim.lens ? null : claim.focal_length_mm,
      since: report.since,
      until: report.until,
      means: { lens: entry.lens, via: entry.via },
    };
    keep.mutate({ ...signs, says: [...signs.says, says] });
  };
  return (
    <section>
      <h2>What the files claim</h2>
      <div className="wide-table">
        <table className="data-table">
          <TableHead columns={["They say", "Pictures", "By the log it was", ""]} />
          <tbody>
            {rows.map((claim) => (
              <tr key={`${claim.body} ${claim.lens} ${claim.focal_length_mm}`}>
                <th scope="row">
                  {claim.lens || (claim.focal_length_mm === null ? "nothing" : `${claim.focal_length_mm} mm, no lens`)}
                </th>
                <td>{claim.pictures}</td>
                <td>{claim.was.join("; ") || "no entry"}</td>
                <td>
                  {claim.was.length === 1 && claim.lens !== "" && claim.was[0] !== claim.lens && (
                    <Button size="small" loading={keep.isPending} onClick={() => mean(claim, claim.was[0] ?? "")}>
                      So it is on these days
                    </Button>
                  )}
                </td>
              </tr>
            ))}
            {kept.map(({ signs, says }) => (
              <tr key={`${signs.model} ${says.lens} ${says.focal_length_mm} ${says.since}`}>
                <th scope="row">{says.lens ?? `${says.focal_length_mm} mm`}</th>
                <td />
                <td>{`kept: ${says.means.lens} ${says.means.via.join(", ")}`}</td>
                <td>{`${says.since ?? "ever"} to ${says.until ?? "now"}`}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {keep.error && <Refused error={keep.error} />}
    </section>
  );
}
