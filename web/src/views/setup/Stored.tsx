import "./Stored.css";

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import Button from "antd/es/button";

import { client, movedTo, ProblemError, type StoredPlace, type StoredReport, unwrap } from "../../api/client";
import { historyQuery, type StoredQuery, storedQuery } from "../../api/queries";
import { Failed } from "../../parts/Failed";
import { percent } from "../../parts/format";
import { Moved } from "../../parts/Moved";
import { Refused } from "../../parts/Refused";
import { UndoBar } from "../../parts/UndoBar";
import { Plain } from "../../parts/Plain";
import { TableHead } from "../../parts/TableHead";

type Slot = StoredReport["slots"][number];
type Need = StoredReport["needs"][number];

/** What a body stores of the lenses that it does not know: its places, and what its rigs want there. */
export function Stored({ query }: { query: StoredQuery }) {
  const queries = useQueryClient();
  const options = storedQuery(query);
  const stored = useQuery(options);
  const put = useMutation({
    mutationFn: async (body: StoredPlace) => unwrap(await client.PUT("/api/v1/stored", { params: { query }, body })),
    onSuccess: (report) => {
      queries.setQueryData(options.queryKey, report);
      return queries.invalidateQueries({ queryKey: historyQuery.queryKey });
    },
  });
  if (stored.error) return <Failed error={stored.error} onRetry={() => void stored.refetch()} />;
  if (!stored.data) return <div className="sheet skeleton" aria-busy="true" />;
  const report = stored.data;
  const onPut = (place: StoredPlace) => put.mutate(place);
  return (
    <div data-stored={report.body}>
      <div className="sheet">
        <div className="screen-head" aria-live="polite">
          <h1>{report.says}</h1>
          <p>{aboutOf(report)}</p>
        </div>
        {report.slots.length > 0 && <Places report={report} onPut={onPut} />}
      </div>
      {put.error && (
        <NotPut
          error={put.error}
          wanted={put.variables}
          onTheirs={() => {
            put.reset();
            void stored.refetch();
          }}
          onMine={onPut}
        />
      )}
      <Needs report={report} onPut={onPut} />
      {report.slots.length > 0 && <UndoBar />}
    </div>
  );
}

interface NotPutProps {
  error: Error;
  wanted: StoredPlace;
  onTheirs: () => void;
  onMine: (place: StoredPlace) => void;
}

/** What was not noted, and both sides where another window was first. */
function NotPut({ error, wanted, onTheirs, onMine }: NotPutProps) {
  const moved = movedTo(error);
  if (!moved || !(error instanceof ProblemError)) return <Refused error={error} />;
  const current = moved.current as NonNullable<Slot["stored"]>;
  return (
    <Moved
      error={error}
      sides={[
        {
          name: `Place ${wanted.number}`,
          theirs: current.struck ? "nothing" : `“${current.label}”, ${current.focal_length_mm} mm,`,
          mine: wanted.empty ? "nothing" : `“${wanted.label}”, ${wanted.focal_length_mm} mm,`,
        },
      ]}
      onTheirs={onTheirs}
      onMine={() => onMine({ ...wanted, version: moved.version })}
    />
  );
}

function aboutOf({ body_name: body, places, presets_mm: presets, name_length: most }: StoredReport): string {
  if (presets.length > 0) return `${body} takes ${presets.join(", ")} mm and nothing between.`;
  if (places === 0) return `${body} keeps no lenses: what it is told is gone with the next lens.`;
  return `${places} places in ${body}${most === null ? "" : `, names of at most ${most} letters`}.`;
}

interface Props {
  report: StoredReport;
  onPut: (place: StoredPlace) => void;
}

/** The places as they lie in the body, one beside the other. */
function Places({ report, onPut }: Props) {
  return (
    <ol className="stored-places">
      {report.slots.map((slot) => (
        <li
          key={slot.number}
          data-place={slot.number}
          className={slot.stored === null ? "empty" : slot.stale ? "stale-place" : ""}
        >
          <span className="stored-number">{slot.number}</span>
          {slot.stored === null ? (
            <span className="stored-free">free</span>
          ) : (
            <Held slot={slot} stored={slot.stored} onPut={onPut} />
          )}
        </li>
      ))}
    </ol>
  );
}

interface HeldProps {
  slot: Slot;
  stored: NonNullable<Slot["stored"]>;
  onPut: (place: StoredPlace) => void;
}

function Held({ slot, stored, onPut }: HeldProps) {
  const [lens = "", , chain = ""] = stored.rig.split(" ");
  const same = {
    number: stored.number,
    label: stored.label,
    lens,
    adapters: chain.split(",").filter(Boolean),
    version: slot.version,
    marked_mm: stored.marked_mm,
    focal_length_mm: stored.focal_length_mm,
    area: stored.area,
    travel: stored.travel,
    pinned: stored.pinned,
    empty: false,
  };
  return (
    <>
      <strong className="stored-label">{stored.label}</strong>
      <span>{`${stored.focal_length_mm} mm, ${areaOf(stored.area)}, ${percent(stored.travel)}`}</span>
      {slot.stale && <span className="stored-stale">{`Stale: ${slot.stale}.`}</span>}
      <span className="camera-where">{slot.last ? `last used ${slot.last}` : "not used yet"}</span>
      <span className="stored-does">
        <Plain
          className="filter-toggle"
          aria-pressed={stored.pinned}
          onClick={() => onPut({ ...same, pinned: !stored.pinned })}
        >
          {stored.pinned ? "pinned" : "pin"}
        </Plain>
        <Plain className="filter-toggle" onClick={() => onPut({ ...same, empty: true })}>
          empty
        </Plain>
      </span>
    </>
  );
}

const areaOf = (area: string) => (area === "full" ? "full sensor" : area);

/** What the rigs of the body want stored: at which place it is, or where it would go. */
function Needs({ report, onPut }: Props) {
  if (report.needs.length === 0) return null;
  return (
    <section>
      <h2>What the rigs on it want entered</h2>
      <table className="data-table stacks" data-table="needs">
        <TableHead columns={["name in the body", "rigs", "on the ring", "enter", "area", "travel", "place"]} />
        <tbody>
          {report.needs.map((need) => (
            <NeedRow key={`${need.focal_length_mm} ${need.area} ${need.travel}`} {...{ report, need, onPut }} />
          ))}
        </tbody>
      </table>
    </section>
  );
}

function NeedRow({ report, need, onPut }: Props & { need: Need }) {
  const into = need.into ?? null;
  return (
    <tr data-need={need.label}>
      <th scope="row">{need.label}</th>
      <td data-head="for">{need.rigs.join(", ")}</td>
      <td data-head="on the ring">{`${need.marked_mm} mm`}</td>
      <td data-head="enter">{`${need.focal_length_mm} mm`}</td>
      <td data-head="area">{areaOf(need.area)}</td>
      <td data-head="travel">{report.places > 0 ? percent(need.travel) : ""}</td>
      <td data-head="place">
        {need.at !== null ? `${need.at}, ${need.says}` : into === null ? need.says : `${need.says} `}
        {need.at === null && into !== null && (
          <Button
            size="small"
            onClick={() =>
              onPut({
                number: into,
                label: need.label,
                lens: need.lens,
                adapters: need.adapters,
                version: report.slots.find(({ number }) => number === into)?.version ?? 0,
                marked_mm: need.marked_mm,
                focal_length_mm: need.focal_length_mm,
                area: need.area,
                travel: need.travel,
                pinned: false,
                empty: false,
              })
            }
          >
            {`Note it at place ${into}`}
          </Button>
        )}
      </td>
    </tr>
  );
}
