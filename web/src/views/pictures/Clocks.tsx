import { useMutation, useQueryClient } from "@tanstack/react-query";
import Button from "antd/es/button";
import Input from "antd/es/input/Input";
import Select from "antd/es/select";
import { useState } from "react";

import { client } from "../../api/client";
import type { OffsetRow, PicturesReport } from "../../api/logQueries";
import { ClockLine } from "../../drawing/log/ClockLine";
import { spanSaid } from "../../drawing/log/clockScale";
import { Plain } from "../../parts/Plain";
import { Refused } from "../../parts/Refused";
import { useStrike } from "../../parts/useStrike";
import { ABOUT_PICTURES } from "./useSettling";

interface ClockSaid {
  seconds?: number;
  file?: string;
  shows?: string;
  since?: string | null;
  until?: string | null;
}

/** How the clock of each camera runs: drawn, moved, or told by a clock that was photographed. */
export function Clocks({ report }: { report: PicturesReport }) {
  const queries = useQueryClient();
  // First the camera that something is doubtful of.
  const [shown, setShown] = useState(() => {
    const doubtful = report.pictures.find(({ state }) => state === "doubtful")?.body;
    return Math.max(
      report.offsets.findIndex(({ body, certain }) => body === doubtful || !certain),
      0,
    );
  });
  const [zoom, setZoom] = useState(1);
  const [chosen, setChosen] = useState<number | null>(null);
  const keep = useMutation({
    mutationFn: ({ row, said }: { row: OffsetRow; said: ClockSaid }) =>
      client.POST("/api/v1/log/folders/{number}/clocks", {
        params: { path: { number: report.folder.number } },
        body: {
          seconds: null,
          file: null,
          shows: null,
          since: null,
          until: null,
          ...said,
          body: row.body,
          zoned: row.zoned,
        },
      }),
    onSuccess: () => queries.invalidateQueries({ predicate: ABOUT_PICTURES }),
  });
  const row = report.offsets[Math.min(shown, report.offsets.length - 1)];
  if (!row) return null;
  const entries = report.entries.filter(({ body }) => body === row.body);
  const pictures = report.pictures.flatMap(({ number, clock_us, entry, state, files, body, taken_at }) =>
    body === row.body && clock_us !== null && isZoned(taken_at) === row.zoned && within(taken_at, row)
      ? [{ number, clock_us, entry, state, file: files[0] ?? "" }]
      : [],
  );
  // Where it names none, the machine has it hold for the days of these pictures.
  const span = { since: row.since, until: row.until };
  return (
    <section className="clocks" aria-label="Clocks">
      <p className="clocks-bodies" role="group" aria-label="Cameras">
        {report.offsets.map((one, at) => (
          <Plain
            key={`${one.body} ${one.zoned} ${one.since} ${one.until}`}
            className="filter-toggle"
            aria-pressed={one === row}
            onClick={() => setShown(at)}
          >
            {[one.body_name, one.zoned ? "with zone" : "", one.since ? `from ${one.since.slice(11, 16)}` : ""]
              .filter(Boolean)
              .join(", ")}
          </Plain>
        ))}
        <span className="clocks-zoom">
          <Button size="small" aria-label="Wider" onClick={() => setZoom(Math.min(zoom * 2, 32))}>
            +
          </Button>
          <Button size="small" aria-label="Narrower" onClick={() => setZoom(Math.max(zoom / 2, 1))}>
            −
          </Button>
        </span>
      </p>
      <ClockLine
        body={row.body}
        entries={entries}
        pictures={pictures}
        seconds={row.seconds}
        zoneUs={zoneOf(entries[0]?.at ?? "")}
        zoom={zoom}
        chosen={chosen}
        onChoose={setChosen}
        onOffset={(seconds) => keep.mutate({ row, said: { seconds, ...span } })}
      />
      <p className="clocks-said" role="status">
        <strong>{`Its clock is ${row.says}.`}</strong>
        {row.proposal_seconds !== null && (
          <Button
            size="small"
            onClick={() =>
              keep.mutate({
                row,
                said: {
                  seconds: row.proposal_seconds ?? 0,
                  ...(row.proposal_since ? { since: row.proposal_since, until: row.proposal_until } : span),
                },
              })
            }
          >
            {proposalSaid(row)}
          </Button>
        )}
      </p>
      <Told
        row={row}
        report={report}
        chosen={chosen}
        onSaid={(said) => keep.mutate({ row, said: { ...said, ...span } })}
      />
      {keep.error && <Refused error={keep.error} />}
    </section>
  );
}

const isZoned = (taken_at: string | null) => /[+-]\d\d:\d\d$/.test(taken_at ?? "");
const within = (taken_at: string | null, { since, until }: OffsetRow) =>
  (!since || (taken_at ?? "") >= since) && (!until || (taken_at ?? "").slice(0, until.length) <= until);

/** The UTC offset of a moment, in microseconds. */
function zoneOf(moment: string): number {
  const match = /([+-])(\d\d):(\d\d)$/.exec(moment);
  if (!match) return 0;
  const minutes = Number(match[2]) * 60 + Number(match[3]);
  return (match[1] === "-" ? -1 : 1) * minutes * 60e6;
}

function proposalSaid(row: OffsetRow): string {
  const by = (row.proposal_seconds ?? 0) - row.seconds;
  const where = row.proposal_since ? ` from ${row.proposal_since.slice(11, 16)} on` : "";
  const agree = row.proposal_pairs === 1 ? "1 picture" : `${row.proposal_pairs} pictures`;
  return `Take ${spanSaid(by)} ${by < 0 ? "less" : "more"}${where}: ${agree} would agree`;
}

interface ToldProps {
  row: OffsetRow;
  report: PicturesReport;
  chosen: number | null;
  onSaid: (said: ClockSaid) => void;
}

/** The clock told otherwise: by what a photographed clock shows, or in seconds; and what was told before. */
function Told({ row, report, chosen, onSaid }: ToldProps) {
  const strike = useStrike("clocks");
  const own = report.pictures.filter(({ body, clock_us }) => body === row.body && clock_us !== null);
  const picked = own.find(({ number }) => number === chosen) ?? own[0];
  const [file, setFile] = useState<string | null>(null);
  const name = file ?? picked?.files[0] ?? "";
  const taken = own.find(({ files }) => files[0] === name)?.taken_at ?? "";
  const [day, setDay] = useState("");
  const [time, setTime] = useState("");
  const known = report.clocks.filter(({ clock }) => clock.body === row.body);
  const zone = /([+-]\d\d:\d\d)$/.exec(report.entries.find(({ body }) => body === row.body)?.at ?? "")?.[1] ?? "+00:00";
  return (
    <details className="clocks-told">
      <summary>Tell how its clock runs</summary>
      <form
        className="toggles"
        onSubmit={(event) => {
          event.preventDefault();
          if (time)
            onSaid({
              file: name,
              shows: `${day || (report.since ?? taken.slice(0, 10))}T${time.padEnd(8, ":00")}${zone}`,
            });
        }}
      >
        <span>In</span>
        <Select
          aria-label="Picture of a clock"
          className="whose-body"
          showSearch
          value={name}
          options={own.map(({ files }) => ({ value: files[0] ?? "", label: files[0] }))}
          onChange={setFile}
        />
        <span>a clock shows</span>
        <Input
          aria-label="Day"
          type="date"
          value={day || (report.since ?? "")}
          onChange={(event) => setDay(event.target.value)}
        />
        <Input aria-label="Time" type="time" step={1} value={time} onChange={(event) => setTime(event.target.value)} />
        <Button htmlType="submit" disabled={time === ""}>
          Set it by that
        </Button>
      </form>
      <Seconds key={row.seconds} row={row} onSaid={onSaid} />
      {known.length > 0 && (
        <ul className="held">
          {known.map(({ record, clock }) => (
            <li key={record}>
              <span>
                {clock.seconds != null ? `${clock.seconds} s from camera to log` : `${clock.file} shows ${clock.shows}`}
                {clock.since ? `, from ${clock.since}` : ""}
                {clock.until ? ` to ${clock.until}` : ""}
              </span>
              <Plain className="unfold" onClick={() => strike.mutate({ id: record, reason: "" })}>
                strike out
              </Plain>
            </li>
          ))}
        </ul>
      )}
    </details>
  );
}

function Seconds({ row, onSaid }: { row: OffsetRow; onSaid: (said: ClockSaid) => void }) {
  const [typed, setTyped] = useState(String(row.seconds));
  const value = Number(typed.replace(",", "."));
  return (
    <form
      className="toggles"
      onSubmit={(event) => {
        event.preventDefault();
        if (Number.isFinite(value)) onSaid({ seconds: value });
      }}
    >
      <span>From the camera’s clock to the log’s (UTC)</span>
      <Input
        aria-label="Seconds"
        className="clocks-seconds"
        value={typed}
        suffix="s"
        inputMode="decimal"
        onChange={(event) => setTyped(event.target.value)}
      />
      <Button htmlType="submit" disabled={!Number.isFinite(value)}>
        State it
      </Button>
    </form>
  );
}
