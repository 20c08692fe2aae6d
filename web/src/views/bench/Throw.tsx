import Input from "antd/es/input/Input";
import { useQuery } from "@tanstack/react-query";

import { throwQuery } from "../../api/benchQueries";
import { ThrowDial } from "../../drawing/bench/ThrowDial";
import { mm, unbroken } from "../../parts/format";
import { Refused } from "../../parts/Refused";
import { numberIn, useKept } from "./useKept";
import type { RigProps } from "./useRig";
import { WriteMeasured } from "./WriteMeasured";
import { TableHead } from "../../parts/TableHead";

interface Written {
  turns: string;
  from: string;
  to: string;
}

const EMPTY: Written = { turns: "0.25", from: "1", to: "3" };
const FIELDS = [
  ["turns", "turned by so much of a whole turn"],
  ["from", "from, m"],
  ["to", "to, m (empty: infinity)"],
] as const;

/** How far a focus ring turns between two distances: long for precision, short for speed. */
export default function Throw({ rig }: RigProps) {
  const lens = rig.lens;
  const [written, setWritten] = useKept<Written>(`throw ${lens ?? ""}`, EMPTY);
  const [turns, from, to] = [numberIn(written.turns), numberIn(written.from), numberIn(written.to)];
  const whole =
    lens !== null &&
    turns !== null &&
    turns > 0 &&
    turns <= 10 &&
    from !== null &&
    from > 0 &&
    (written.to.trim() === "" || (to !== null && to > 0));
  const found = useQuery({
    ...throwQuery({
      lens: lens ?? "",
      turns: turns ?? 1,
      from_m: from ?? 1,
      ...(to === null ? {} : { to_m: to }),
    }),
    enabled: whole,
  });
  if (lens === null) {
    return (
      <div className="message" data-state="no-pair">
        <h1>Of which lens? Choose one above.</h1>
      </div>
    );
  }
  const report = whole && !found.error ? (found.data ?? null) : null;
  return (
    <>
      <div className="sheet bench-sheet" data-throw={report && !found.isFetching ? "settled" : undefined}>
        <div className="screen-head" aria-live="polite">
          <h1>{unbroken(report?.says ?? "Turn it from one distance to another, and say by how much.")}</h1>
          <p>Put a strip of tape on the ring; mark it at both distances; a whole turn is once around.</p>
        </div>
        <div className="bench-throw">
          <ThrowDial
            turnedDeg={360 * (turns ?? 0)}
            others={(report?.beside ?? []).map((one) => ({ name: one.name, deg: one.between_deg }))}
          />
          <div>
            {FIELDS.map(([key, label]) => (
              <label key={key} className="bench-field">
                <span>{label}</span>
                <Input
                  inputMode="decimal"
                  value={written[key]}
                  onChange={(event) => setWritten({ ...written, [key]: event.target.value })}
                  data-field={key}
                />
              </label>
            ))}
            {found.error && whole && <Refused error={found.error} />}
            {report && (
              <WriteMeasured
                kind="lenses"
                id={lens}
                fields={report.fields}
                says={`throw by ${written.turns} turns from ${written.from} m to ${written.to || "infinity"}`}
              />
            )}
          </div>
        </div>
      </div>
      {report && report.beside.length > 0 && (
        <section>
          <h2>Others between the same two distances</h2>
          <table className="data-table">
            <TableHead columns={["lens", "between them", "in all"]} />
            <tbody>
              {report.beside.map((one) => (
                <tr key={one.lens} data-beside={one.lens}>
                  <th scope="row">{one.name}</th>
                  <td>{`${mm(one.between_deg, 0)}°`}</td>
                  <td>{`${mm(one.throw_deg, 0)}°`}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </section>
      )}
    </>
  );
}
