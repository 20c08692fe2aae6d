import "./Begin.css";

import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";
import Button from "antd/es/button";
import Input from "antd/es/input/Input";
import TextArea from "antd/es/input/TextArea";
import Radio from "antd/es/radio";
import { useState } from "react";
import { Link, useNavigate } from "react-router";

import { client, unwrap } from "../../api/client";
import { about, lensLinesQuery, mountsQuery } from "../../api/queries";
import type { components } from "../../api/schema";
import { usePractices } from "../../app/Practices";
import { useScreen } from "../../app/screen";
import { keep } from "../../parts/csv";
import { lengthMm } from "../../parts/lengths";
import { UndoBar } from "../../parts/UndoBar";
import { useSettled } from "../../parts/useSettled";
import { Asked } from "./Asked";
import { DoNotKnow, type KnownMount, knownAs } from "./MountAsked";
import { useSaving } from "./useSaving";
import { Plain } from "../../parts/Plain";

type Line = components["schemas"]["LensLine"];

/** What somebody changed of what was read from a line. */
type Corrected = Partial<Record<Column, string>>;

const COLUMNS = [
  ["mount", "mount"],
  ["focal", "mm"],
  ["stop", "f/"],
  ["smallest", "smallest f/"],
  ["closest", "closest, m"],
] as const;
type Column = (typeof COLUMNS)[number][0];

const EMPTY_TABLE = ["name", "mount", "focal length (mm)", "f-number", "closest focus (m)", "owned"];

const PLACEHOLDER = "Corvin 1:2,8/28 f/22 .3m\nCorvin 55 mm f/2\nDelmar 28–80 1:3.5–4.5";

/** Many lenses at once: a line each as engraved, shown as they are read, corrected, and kept in one go. */
export default function AddLenses() {
  const navigate = useNavigate();
  const queries = useQueryClient();
  const { own: practice } = usePractices();
  const mounts = useQuery(mountsQuery(practice));
  const [text, setText] = useState("");
  const [corrected, setCorrected] = useState<Record<string, Corrected>>({});
  const [flanges, setFlanges] = useState<Record<string, string>>({});
  const [untold, setUntold] = useState<ReadonlySet<string>>(new Set());
  const [owned, setOwned] = useState<boolean | null>(null);
  const { wrong, busy, submit } = useSaving();
  const settled = useSettled(text, 200);
  const read = useQuery({
    ...lensLinesQuery(settled),
    enabled: settled.trim() !== "",
    placeholderData: keepPreviousData,
  });
  const known = mounts.data?.systems ?? [];
  const lines = text.trim() === "" ? [] : (read.data ?? []);
  const rows = lines.map((line) => ({ line, said: { ...saidOf(line), ...corrected[line.text] } }));
  const systems = [...new Set(rows.map(({ said }) => said.mount.trim()))].filter(
    (name) => name !== "" && !knownAs(known, name),
  );
  const now = settled === text && !read.isPlaceholderData;
  useScreen({
    title: "Add lenses",
    answer: mounts.isSuccess && now ? `add lenses ${rows.length}` : undefined,
    className: "add-lenses",
    keys: { k: () => void navigate("/kit"), l: () => void navigate("/") },
  });
  const save = async () => {
    const body = {
      owned: owned === true,
      lenses: rows.map(({ line, said }) => toKeep(line, said, flanges, untold)),
    };
    unwrap(await client.POST("/api/v1/begin/lenses", { body }));
    await queries.invalidateQueries({ predicate: (query) => !about("schema")(query) });
    void navigate("/grid");
  };
  return (
    <>
      <div className="kit-head">
        <h1>Add lenses</h1>
        <UndoBar />
      </div>
      <p>One a line, as engraved or noted down. Type them, or paste a list.</p>
      <TextArea
        value={text}
        rows={Math.min(14, Math.max(5, text.split("\n").length))}
        maxLength={40_000}
        placeholder={PLACEHOLDER}
        aria-label="Lenses, one a line"
        onChange={(event) => setText(event.target.value)}
      />
      {rows.length > 0 && (
        <>
          <LinesTable
            rows={rows}
            wrong={wrong}
            onCorrect={(line, column, value) =>
              setCorrected({ ...corrected, [line]: { ...corrected[line], [column]: value } })
            }
          />
          {systems.map((name) => (
            <div key={name} className="asked-drawn">
              <Asked
                label={`${name} is new here: its flange focal distance`}
                value={flanges[name] ?? ""}
                onChange={(value) => {
                  setFlanges({ ...flanges, [name]: value });
                  setUntold(without(untold, name));
                }}
                placeholder="mm, or “1.74 in”"
                decimal
                wrong={wrong[`flange ${name}`]}
                hint="From the lens’s mount face to the sensor: in the manual, or by caliper on an old body of that system."
              />
              <DoNotKnow
                pressed={untold.has(name)}
                onPress={(pressed) => {
                  setFlanges({ ...flanges, [name]: "" });
                  setUntold(pressed ? new Set([...untold, name]) : without(untold, name));
                }}
              />
            </div>
          ))}
          <Owned owned={owned} onChange={setOwned} wrong={wrong.owned} />
          {wrong[""] && (
            <p className="asked-wrong" role="alert">
              {wrong[""]}
            </p>
          )}
          <Button
            type="primary"
            size="large"
            loading={busy}
            onClick={() => void submit(missingOf(rows, known, flanges, untold, owned), save)}
          >
            {rows.length === 1 ? "Add it" : `Add ${rows.length} lenses`}
          </Button>
        </>
      )}
      <p className="route-gives">
        A table with headings is read under <Link to="/files">Files</Link>.{" "}
        <Plain className="unfold" onClick={() => keep("lenses.csv", "text/csv", `${EMPTY_TABLE.join(",")}\r\n`)}>
          An empty one to fill in
        </Plain>
      </p>
    </>
  );
}

interface TableProps {
  rows: readonly Told[];
  wrong: Record<string, string>;
  onCorrect: (line: string, column: Column, value: string) => void;
}

/** Every line as it is read, to be corrected. */
function LinesTable({ rows, wrong, onCorrect }: TableProps) {
  return (
    <>
      <h2>{rows.length === 1 ? "Read as" : `${rows.length} lenses, read as`}</h2>
      <table className="data-table stacks lens-lines" data-lines={rows.length}>
        <thead>
          <tr>
            <th scope="col">as written</th>
            {COLUMNS.map(([column, name]) => (
              <th key={column} scope="col">
                {name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map(({ line, said }, number) => (
            <Row
              key={`${number} ${line.text}`}
              line={line}
              said={said}
              wrong={wrongOf(wrong, number)}
              onChange={(column, value) => onCorrect(line.text, column, value)}
            />
          ))}
        </tbody>
      </table>
    </>
  );
}

interface OwnedProps {
  owned: boolean | null;
  onChange: (owned: boolean) => void;
  wrong: string | undefined;
}

/** Asked once, of all of them. */
function Owned({ owned, onChange, wrong }: OwnedProps) {
  return (
    <p className="add-owned">
      <Radio.Group
        value={owned}
        onChange={(event) => onChange(event.target.value === true)}
        aria-label="Whose they are"
      >
        <Radio value={true}>They are mine</Radio>
        <Radio value={false}>Only to compare</Radio>
      </Radio.Group>
      {wrong && (
        <span className="asked-wrong" role="alert">
          {wrong}
        </span>
      )}
    </p>
  );
}

const without = (names: ReadonlySet<string>, name: string) => new Set([...names].filter((one) => one !== name));

const shown = (value: number | null) => (value === null ? "" : String(value));

function saidOf(line: Line): Record<Column, string> {
  const ends = [line.focal_mm, line.focal_long_mm].map(shown).filter(Boolean);
  const stops = [line.f_number, line.f_number_at_long_end].map(shown).filter(Boolean);
  return {
    mount: line.mount_name,
    focal: ends.join("–"),
    stop: stops.join("–"),
    smallest: shown(line.smallest_f_number),
    closest: shown(line.min_focus_m),
  };
}

/** One number, or the two ends of a zoom; a comma is a point. */
function ends(text: string): [number | null, number | null] {
  const [first = "", second = ""] = text.split(/[-–—]/).map((one) => one.trim().replace(",", "."));
  const value = (one: string) => (one === "" || Number.isNaN(Number(one)) ? null : Number(one));
  return [value(first), value(second)];
}

function toKeep(
  line: Line,
  said: Record<Column, string>,
  flanges: Record<string, string>,
  untold: ReadonlySet<string>,
) {
  const [focal, long] = ends(said.focal);
  const [stop, slow] = ends(said.stop);
  const mount = said.mount.trim();
  return {
    name: line.text.slice(0, 120),
    mount,
    flange_mm: untold.has(mount) ? null : lengthMm(flanges[mount] ?? ""),
    flange_unknown: untold.has(mount),
    focal_mm: focal ?? 0,
    focal_long_mm: long,
    f_number: stop,
    f_number_at_long_end: slow,
    smallest_f_number: ends(said.smallest)[0],
    min_focus_m: ends(said.closest)[0],
  };
}

interface Told {
  line: Line;
  said: Record<Column, string>;
}

/** What is missing, by the row and column that it is missing in. */
function missingOf(
  rows: readonly Told[],
  known: readonly KnownMount[],
  flanges: Record<string, string>,
  untold: ReadonlySet<string>,
  owned: boolean | null,
): Record<string, string> {
  const found: Record<string, string> = {};
  rows.forEach(({ said }, number) => {
    const mount = said.mount.trim();
    if (mount === "") found[`${number} mount`] = "Which mount?";
    if (ends(said.focal)[0] === null) found[`${number} focal`] = "Which focal length?";
    if (mount === "" || untold.has(mount) || knownAs(known, mount)) return;
    const length = lengthMm(flanges[mount] ?? "");
    if (length === null || length < 0.1 || length > 500)
      found[`flange ${mount}`] = "How far is its mount face from the sensor: “44.2”, “1.74 in”.";
  });
  if (owned === null) found.owned = "Are they yours?";
  return found;
}

const wrongOf = (wrong: Record<string, string>, number: number): Partial<Record<Column, string>> =>
  Object.fromEntries(
    COLUMNS.flatMap(([column]) => {
      const text = wrong[`${number} ${column}`];
      return text ? [[column, text]] : [];
    }),
  );

interface RowProps {
  line: Line;
  said: Record<Column, string>;
  wrong: Partial<Record<Column, string>>;
  onChange: (column: Column, value: string) => void;
}

function Row({ line, said, wrong, onChange }: RowProps) {
  const doubts = line.doubts.filter((one) => !one.startsWith("which "));
  return (
    <tr data-line={line.text}>
      <th scope="row">
        {line.text}
        {doubts.map((one) => (
          <span key={one} className="route-gives">{` ${one}`}</span>
        ))}
      </th>
      {COLUMNS.map(([column, name]) => (
        <td key={column} data-head={name}>
          <Input
            value={said[column]}
            size="small"
            status={wrong[column] ? "error" : ""}
            inputMode={column === "mount" ? "text" : "decimal"}
            placeholder={PLACEHOLDERS[column]}
            aria-label={`${line.text}: ${name}`}
            onChange={(event) => onChange(column, event.target.value)}
          />
          {wrong[column] && (
            <span className="asked-wrong" role="alert">
              {wrong[column]}
            </span>
          )}
        </td>
      ))}
    </tr>
  );
}

const PLACEHOLDERS: Record<Column, string> = {
  mount: "which?",
  focal: "which?",
  stop: "2.8 assumed",
  smallest: "16 assumed",
  closest: "not known",
};
