import { useState } from "react";
import { Link } from "react-router";

import type { PicturesReport } from "../../api/logQueries";
import { Plain } from "../../parts/Plain";
import { TableHead } from "../../parts/TableHead";
import { takenPath } from "../../parts/taken";

const MOST = 12;
const STATES: Record<string, string> = {
  matched: "told",
  doubtful: "doubtful",
  has_lens: "names its lens",
  none: "no entry",
};

/** Every picture with what it was taken with. */
export function AllPictures({ report }: { report: PicturesReport }) {
  const [all, setAll] = useState(false);
  const entries = new Map(report.entries.map((entry) => [entry.id, entry]));
  if (report.pictures.length === 0) return null;
  const shown = all ? report.pictures : report.pictures.slice(0, MOST);
  return (
    <section>
      <h2>Every picture</h2>
      <div className="wide-table">
        <table className="data-table">
          <TableHead columns={["Picture", "Taken, by its camera", "With", "Set", "", ""]} />
          <tbody>
            {shown.map((picture) => {
              const entry = entries.get(picture.entry ?? "");
              return (
                <tr key={picture.number} data-picture={picture.files[0]} data-state={picture.state}>
                  <th scope="row">{picture.files.join(", ")}</th>
                  <td>{picture.taken_at?.replace("T", " ").slice(0, 19) ?? "not known"}</td>
                  <td>{entry?.rig ?? picture.lens}</td>
                  <td>{entry?.says ?? ""}</td>
                  <td>{picture.settled ? "as settled" : STATES[picture.state]}</td>
                  <td>
                    {entry && (
                      <Link to={takenPath(entry, { number: picture.number, file: picture.files[0] ?? "" })}>
                        how it did
                      </Link>
                    )}
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </div>
      {report.pictures.length > shown.length && (
        <Plain className="unfold" onClick={() => setAll(true)}>
          {`All ${report.pictures.length}`}
        </Plain>
      )}
    </section>
  );
}
