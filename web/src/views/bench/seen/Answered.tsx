import { Link, useSearchParams } from "react-router";

import type { RigSeen, SeenReport } from "../../../api/benchQueries";
import type { Chosen } from "../../../app/practice";
import { useAddress } from "../../../app/useAddress";
import { distance, fNumber, mm, percent, signedMm } from "../../../parts/format";
import { Plain } from "../../../parts/Plain";
import { TableHead } from "../../../parts/TableHead";

interface Props {
  report: SeenReport;
  seen: RigSeen;
  onChange: (seen: RigSeen) => void;
}

/** What it comes to: how to mend it, before and after, and which piece it likely is. */
export function Answered({ report, seen, onChange }: Props) {
  const { mend, blame, wrong_rings: rings } = report;
  const told = report.observations.some((one) => one.form !== null);
  if (!told) {
    return (
      <section data-answered="nothing">
        <h2>What would tell most</h2>
        <p>{report.next_says || "Anything that is seen tells something."}</p>
      </section>
    );
  }
  return (
    <>
      {rings.map((one) => (
        <p key={one.mount} className="warning" data-wrong-ring={one.mount}>
          {one.says}
        </p>
      ))}
      {mend && <Mend report={report} seen={seen} onChange={onChange} />}
      <BeforeAfter report={report} />
      {report.next_says && (
        <section data-next={report.next_best}>
          <h2>What would decide</h2>
          <p>{report.next_says}</p>
        </section>
      )}
      {blame.length > 0 && <Blame report={report} />}
    </>
  );
}

function Blame({ report }: { report: SeenReport }) {
  const [words] = useSearchParams();
  const pieceOf = (id: string) => {
    const kind = id === report.lens ? "lenses" : id === report.body ? "bodies" : "adapters";
    const next = new URLSearchParams(words);
    next.set("view", "measure");
    next.set("piece", `${kind}:${id}`);
    next.delete("of");
    return `/bench?${next.toString()}`;
  };
  return (
    <section data-section="blame">
      <h2>Which piece it likely is</h2>
      <table className="data-table bench-parts">
        <TableHead columns={["piece", "share", "its own error"]} />
        <tbody>
          {report.blame.map((one) => (
            <tr key={one.piece} data-blame={one.piece}>
              <th scope="row">
                <Link to={pieceOf(one.piece)}>{one.name}</Link>
                <span className="route-gives">{` ± ${mm(one.tolerance_mm)}${one.assumed ? ", assumed" : ""}`}</span>
              </th>
              <td>{percent(one.share)}</td>
              <td>{`${signedMm(one.error_mm)} mm`}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

function Mend({ report, seen, onChange }: Props) {
  const { mend } = report;
  if (mend === null) return null;
  const { shim } = mend;
  return (
    <section data-mend={mend.kind}>
      <h2>What to do</h2>
      {mend.kind === "nothing" && <p>Nothing: infinity is sharp, as far as this tells.</p>}
      {mend.kind === "look_again" && (
        <p>
          {mend.cautions.length > 0
            ? "First settle what contradicts."
            : "Not sure yet: look once more before anything is mended."}
        </p>
      )}
      {shim && (
        <>
          <p>
            <strong>
              {shim.foils.length === 0
                ? "None of your foils helps. "
                : `Shim of ${shim.foils.map((one) => mm(one)).join(" + ")} mm, `}
            </strong>
            {`${shim.foils.length === 0 ? "Wanted: " : "for "}${mm(shim.wanted_mm, 3)} mm, ${mend.where}.`}
            {shim.counts !== 1 &&
              ` There each hundredth counts ${times(shim.counts)} at the sensor, by the glass behind it.`}
          </p>
          <p className="route-gives">
            <Link to="/kit/foils">
              {report.foils.length === 0 ? "You have no foils" : `Your foils: ${foilsOf(report)}`}
            </Link>
          </p>
          <ol className="bench-order numbered">
            {mend.order.map((one) => (
              <li key={one}>{one}</li>
            ))}
          </ol>
        </>
      )}
      {mend.kind === "another_ring" && (
        <p>
          {`Nothing to add: it is too long. Another ring, or a repairer turns ${mm(mend.off_mm ?? 0)} mm off, `}
          {`which cannot be taken back${turned(report)}.`}
        </p>
      )}
      <div className="toggles" role="group" aria-label="Past infinity">
        {([true, false] as const).map((one) => (
          <Plain
            key={String(one)}
            className="filter-toggle"
            aria-pressed={seen.past_infinity === one}
            onClick={() => onChange({ ...seen, past_infinity: one })}
          >
            {one ? "to turn a little past infinity" : "to stop right at infinity"}
          </Plain>
        ))}
      </div>
      {mend.cautions.length > 0 && (
        <ul className="findings">
          {mend.cautions.map((one) => (
            <li key={one} className="caution">
              {one}
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}

type Shown = NonNullable<SeenReport["before"]>;

type Units = Chosen["distances"];

const away = (value: number | null, units: Units) => (value === null ? "infinity" : distance(value * 1000, units));
const ROWS: readonly [string, (shown: Shown, units: Units) => string][] = [
  [
    "far things are sharp from",
    (one) => (one.sharp_from_f_number === null ? "no stop" : fNumber(one.sharp_from_f_number)),
  ],
  ["likely sharp wide open", (one) => percent(one.probability)],
  ["sharp up to", (one, units) => away(one.far_m, units)],
  [
    "∞ is sharp with the ring at",
    (one, units) => (one.past_at_m === null ? "its ∞, or nowhere" : away(one.past_at_m, units)),
  ],
  ["nearest", (one, units) => (one.near_m === null ? "not known" : away(one.near_m, units))],
];

/** How the rig shows itself now, and with the foils. */
function BeforeAfter({ report }: { report: SeenReport }) {
  const [address] = useAddress();
  const units = address.practice.distances;
  const { before, after } = report;
  if (before === null) return null;
  return (
    <table className="data-table bench-before" data-after={after === null ? "no" : "yes"}>
      <thead>
        <tr>
          <th scope="col">so it shows</th>
          <th scope="col">now</th>
          {after && <th scope="col">{report.mend?.shim ? "with the foils" : "turned down"}</th>}
        </tr>
      </thead>
      <tbody>
        {ROWS.map(([label, told]) => (
          <tr key={label}>
            <th scope="row">{label}</th>
            <td>{told(before, units)}</td>
            {after && <td>{told(after, units)}</td>}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

const times = (counts: number) => `${counts.toFixed(2)} times`;
const turned = ({ after }: SeenReport) =>
  after === null ? "" : `; infinity is then sharp wide open with ${percent(after.probability)}`;
const foilsOf = (report: SeenReport) => report.foils.map((one) => `${one.count} × ${mm(one.thickness_mm)}`).join(", ");
