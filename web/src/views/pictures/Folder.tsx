import { useQuery } from "@tanstack/react-query";
import Button from "antd/es/button";
import Select from "antd/es/select";
import { useState } from "react";
import { Link } from "react-router";

import { client } from "../../api/client";
import { type FolderSeen, folderQuery, type PicturesReport, picturesQuery } from "../../api/logQueries";
import { useScreen } from "../../app/screen";
import { useChange } from "../../app/useChange";
import { Failed } from "../../parts/Failed";
import { Plain } from "../../parts/Plain";
import { Progress } from "../../parts/Progress";
import { Refused } from "../../parts/Refused";
import { UndoBar } from "../../parts/UndoBar";
import { Cameras } from "./Cameras";
import { Claims } from "./Claims";
import { Clocks } from "./Clocks";
import { Doubts } from "./Doubts";
import { HELP } from "./help";
import { AllPictures } from "./AllPictures";
import { useReading } from "./useReading";
import { WriteDown } from "./WriteDown";

/** A folder of pictures held against the log. */
export function Folder({ number }: { number: number }) {
  const [address, change] = useChange();
  const since = address.get("since");
  const until = address.get("until");
  const days = since && until ? { since, until } : {};
  const folder = useQuery(folderQuery(number));
  const pictures = useQuery(picturesQuery(number, days));
  const reading = useReading(
    () => client.POST("/api/v1/log/folders/{number}/read", { params: { path: { number } } }),
    ["log/folders", "log/sources"],
  );
  const report = pictures.data;
  const name = folder.data?.folder.name ?? "Pictures";
  const failure = folder.error ?? pictures.error;
  useScreen({
    title: name,
    answer: report ? `pictures ${number}` : failure ? "no pictures" : undefined,
    busy: failure === null && (!report || reading.working),
    className: "pictures",
    help: HELP,
  });
  if (failure) return <Failed error={failure} onRetry={() => void folder.refetch()} />;
  if (!folder.data || !report) return <div className="sheet skeleton" aria-busy="true" />;
  const seen = folder.data.folder;
  return (
    <>
      <div className="sheet pictures-head">
        <div className="screen-head" aria-live="polite">
          <h1>{headline(report)}</h1>
          <p className="pictures-source">
            {seen.name}
            {!seen.dropped && (
              <Button
                onClick={() => reading.start()}
                disabled={reading.working}
                type={seen.read_at ? "default" : "primary"}
              >
                {seen.read_at ? "Read again" : "Read this folder"}
              </Button>
            )}
            <Days report={report} onDays={(first, last) => change({ since: first, until: last })} />
            <Link to="/log/pictures">Other pictures</Link>
          </p>
        </div>
        {reading.working && (
          <p className="pictures-progress">
            <Progress
              done={reading.work?.done ?? 0}
              of={reading.work?.total}
              label="Read so far"
              says={`${reading.work?.done ?? 0} of ${reading.work?.total ?? 0}`}
            />
            <Button onClick={reading.stop}>Stop</Button>
          </p>
        )}
        {reading.error && <Refused error={reading.error} />}
        {reading.work?.state === "failed" && (
          <p className="problem-line" role="alert">
            {`Not read: ${reading.work.why}`}
          </p>
        )}
        {report.pictures.length > 0 && <Clocks report={report} />}
      </div>
      <div className="below">
        <div>
          <Cameras report={report} />
          <Doubts report={report} />
          <AllPictures report={report} />
          <Claims report={report} />
        </div>
        <div>
          <Below folders={folder.data.folders} />
          <WriteDown number={number} report={report} days={days} />
          <Unread report={report} />
          <UndoBar />
        </div>
      </div>
    </>
  );
}

const counted = (count: number, one: string, many = `${one}s`) => `${count} ${count === 1 ? one : many}`;

/** What the folder comes to, in a sentence. */
export function headline({ folder, pictures, unread, unknown_cameras }: PicturesReport): string {
  if (pictures.length === 0) {
    if (!folder.read_at) return "This folder has not been read yet.";
    return unread.length > 0 ? "No picture in it could be read." : "There are no pictures in it.";
  }
  const of = (state: string) => pictures.filter((one) => one.state === state).length;
  const all = counted(pictures.length, "picture");
  if (unknown_cameras.length > 0 && of("matched") + of("doubtful") === 0) return `${all}: whose camera is it?`;
  const parts = [
    `${of("matched")} told`,
    ...(of("doubtful") ? [counted(of("doubtful"), "doubt")] : []),
    ...(of("has_lens") ? [`${of("has_lens")} with a lens of their own`] : []),
    ...(of("none") ? [`${of("none")} without an entry`] : []),
  ];
  return `${all}: ${parts.join(", ")}.`;
}

interface DaysProps {
  report: PicturesReport;
  onDays: (first: string | null, last: string | null) => void;
}

/** Which days of the log the pictures are held against. */
function Days({ report, onDays }: DaysProps) {
  if (report.days.length < 2) return null;
  const value = report.since === report.until ? (report.since ?? "") : "span";
  const span = { value: "span", label: `${report.since} to ${report.until}` };
  return (
    <Select
      aria-label="Days of the log"
      className="pictures-days"
      value={value}
      options={[
        ...(value === "span" ? [span] : []),
        ...report.days.map(({ day, entries }) => ({
          value: day,
          label: `${day}, ${counted(entries, "entry", "entries")}`,
        })),
        { value: "all", label: "the whole log" },
      ]}
      onChange={(day: string) => {
        if (day === "all") onDays("0001-01-01", "9999-12-31");
        else if (day !== "span") onDays(day, day);
      }}
    />
  );
}

/** The folders directly in this one. */
function Below({ folders }: { folders: readonly FolderSeen[] }) {
  if (folders.length === 0) return null;
  return (
    <section>
      <h2>Folders in it</h2>
      <ul className="held">
        {folders.map(({ number, name }) => (
          <li key={number}>
            <Link to={`/log/pictures/${number}`}>{name.split("/").at(-1)}</Link>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** What was not read, and why. */
function Unread({ report }: { report: PicturesReport }) {
  const [all, setAll] = useState(false);
  const shown = all ? report.unread : report.unread.slice(0, 6);
  if (report.unread.length + report.warnings.length === 0) return null;
  return (
    <section>
      <h2>Not read</h2>
      <ul className="held">
        {report.warnings.map((warning) => (
          <li key={warning}>{warning}</li>
        ))}
        {shown.map(({ file = "", why = "" }) => (
          <li key={file}>
            <span>{file}</span>
            <span className="route-gives">{why}</span>
          </li>
        ))}
      </ul>
      {report.unread.length > shown.length && (
        <Plain className="unfold" onClick={() => setAll(true)}>
          {`${report.unread.length - shown.length} more`}
        </Plain>
      )}
    </section>
  );
}
