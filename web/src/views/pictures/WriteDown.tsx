import { useQueryClient } from "@tanstack/react-query";
import Button from "antd/es/button";
import Checkbox from "antd/es/checkbox";
import Segmented from "antd/es/segmented";
import { useState } from "react";

import { client } from "../../api/client";
import type { PicturesReport, SidecarRow } from "../../api/logQueries";
import { Progress } from "../../parts/Progress";
import { Refused } from "../../parts/Refused";
import { useReading } from "./useReading";

interface Props {
  number: number;
  report: PicturesReport;
  days: { since?: string; until?: string };
}

type Naming = "stem" | "full";
const ACTIONS = ["new", "merged", "same", "refused"] as const;
const MOST = 40;

/** Sidecars beside the pictures: first told, field by field, then written. */
export function WriteDown({ number, report, days }: Props) {
  const queries = useQueryClient();
  const [naming, setNaming] = useState<Naming>("stem");
  const [doubtful, setDoubtful] = useState(false);
  const [overwrite, setOverwrite] = useState<readonly string[]>([]);
  const [dry, setDry] = useState(true);
  const [asked, setAsked] = useState("");
  const dropped = report.folder.dropped;
  const ask = (dry_run: boolean) =>
    client.POST("/api/v1/log/folders/{number}/sidecars", {
      params: { path: { number } },
      body: {
        naming,
        also_doubtful: doubtful,
        overwrite: [...overwrite],
        dry_run,
        since: days.since ?? null,
        until: days.until ?? null,
      },
    });
  const work = useReading(ask, ["log/sidecars"]);
  const how = JSON.stringify([naming, doubtful, overwrite, report.pictures.map(({ entry, state }) => [entry, state])]);
  const begin = (dry_run: boolean) => {
    setDry(dry_run);
    setAsked(how);
    work.start(dry_run);
  };
  const rows = work.work?.sidecars ?? null;
  const told = rows !== null && asked === how;
  const ready = report.pictures.filter(
    ({ state, entry }) => state === "matched" || (doubtful && entry !== null),
  ).length;
  if (report.pictures.length === 0) return null;
  const kept = [...new Set((rows ?? []).flatMap((row) => row.kept.map(({ field }) => field)))];
  const writes = (rows ?? []).filter(({ action }) => action === "new" || action === "merged").length;
  return (
    <section className="write-down">
      <h2>Write it down</h2>
      <p className="route-gives">
        A sidecar beside each picture says what it was taken with. Pictures are never changed; what others wrote in a
        sidecar stays.
      </p>
      <p className="toggles">
        <Segmented<Naming>
          aria-label="Names"
          value={naming}
          options={[
            { value: "stem", label: "A.xmp" },
            { value: "full", label: "A.JPG.xmp" },
          ]}
          onChange={setNaming}
        />
        <Checkbox checked={doubtful} onChange={(event) => setDoubtful(event.target.checked)}>
          doubtful ones too
        </Checkbox>
      </p>
      {kept.length > 0 && (
        <fieldset className="write-kept">
          <legend>Others wrote these otherwise; they stay unless you take ours:</legend>
          {kept.map((field) => (
            <Checkbox
              key={field}
              checked={overwrite.includes(field)}
              onChange={(event) =>
                setOverwrite(event.target.checked ? [...overwrite, field] : overwrite.filter((one) => one !== field))
              }
            >
              {field}
            </Checkbox>
          ))}
        </fieldset>
      )}
      <p className="message-actions">
        <Button disabled={ready === 0 || work.working} onClick={() => begin(true)}>
          {`Show what would be written for ${ready} ${ready === 1 ? "picture" : "pictures"}`}
        </Button>
        {told && dry && writes > 0 && !dropped && (
          <Button type="primary" onClick={() => begin(false)}>
            {`Write ${writes} ${writes === 1 ? "sidecar" : "sidecars"}`}
          </Button>
        )}
        {dropped && ready > 0 && (
          <a href={`/api/v1/log/folders/${number}/sidecars?${zipQuery(naming, doubtful, days)}`}>Sidecars as a ZIP</a>
        )}
        <a href={`/api/v1/log/folders/${number}/table?${new URLSearchParams(days).toString()}`}>Table (CSV)</a>
      </p>
      {work.working && (
        <p className="pictures-progress">
          <Progress done={work.work?.done ?? 0} of={work.work?.total} label="Written so far" />
          <Button onClick={work.stop}>Stop</Button>
        </p>
      )}
      {work.error && <Refused error={work.error} />}
      {work.work?.state === "failed" && (
        <p className="problem-line" role="alert">
          {work.work.why}
        </p>
      )}
      {rows && <Rows rows={rows} dry={dry} stopped={work.work?.state === "stopped"} />}
      {rows && !dry && (
        <Button size="small" type="text" onClick={() => void queries.invalidateQueries()}>
          Look again
        </Button>
      )}
    </section>
  );
}

function zipQuery(naming: Naming, doubtful: boolean, days: Props["days"]): string {
  return new URLSearchParams({ naming, also_doubtful: String(doubtful), ...days }).toString();
}

interface RowsProps {
  rows: readonly SidecarRow[];
  dry: boolean;
  stopped: boolean;
}

/** Each sidecar, with the fields that change. */
function Rows({ rows, dry, stopped }: RowsProps) {
  const counts = ACTIONS.map((action) => [action, rows.filter((row) => row.action === action).length] as const);
  const said = counts.flatMap(([action, count]) => (count ? [`${count} ${action}`] : [])).join(", ") || "nothing";
  const shown = rows.filter(({ action }) => action !== "same").slice(0, MOST);
  return (
    <div data-state={dry ? "told" : "written"}>
      <p role="status">
        <strong>{`${dry ? "Would be" : stopped ? "Stopped after" : "Written"}: ${said}.`}</strong>
      </p>
      {shown.map((row) => (
        <details key={row.file + row.pictures.join()} className="sidecar">
          <summary>{`${row.file}: ${row.why ?? row.action}`}</summary>
          <ul>
            {row.changes.map(({ field, was, becomes }) => (
              <li key={field}>{`${field}: ${was ?? "not there"} → ${becomes ?? "taken out"}`}</li>
            ))}
            {row.kept.map(({ field, was, ours }) => (
              <li key={`kept ${field}`}>{`${field}: ${was} stays; ours is ${ours}`}</li>
            ))}
          </ul>
        </details>
      ))}
    </div>
  );
}
