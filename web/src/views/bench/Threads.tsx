import Input from "antd/es/input/Input";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { type ThreadMeasured, threadQuery, type ThreadReport } from "../../api/benchQueries";
import { ThreadHow, ThreadSheet } from "../../drawing/bench/ThreadSheet";
import { Failed } from "../../parts/Failed";
import { mm, percent, unbroken } from "../../parts/format";
import { numberIn, useKept } from "./useKept";
import { Plain } from "../../parts/Plain";

interface Written {
  side: ThreadMeasured["side"];
  diameter: string;
  length: string;
  pitches: string;
  tried: NonNullable<ThreadMeasured["tried"]>;
}

const EMPTY: Written = { side: "male", diameter: "", length: "", pitches: "", tried: [] };
const OUTCOMES = [
  ["freely", "goes on freely"],
  ["binds", "binds after …"],
  ["no_start", "will not start"],
  ["wobbles", "wobbles"],
] as const;

/** Which thread it is: diameter and pitch, and what known parts do on it. */
export default function Threads() {
  const [written, setWritten] = useKept<Written>("thread", EMPTY);
  const [against, setAgainst] = useState<string | null>(null);
  const [diameter, length, pitches] = [written.diameter, written.length, written.pitches].map(numberIn);
  const known = [diameter, length, pitches].every((one) => one != null && one > 0);
  const measured: ThreadMeasured = {
    side: written.side,
    diameter_mm: diameter ?? 1,
    length_mm: length ?? 1,
    pitches: pitches ?? 1,
    tried: written.tried,
  };
  const found = useQuery({ ...threadQuery(measured), enabled: known });
  const report = known ? (found.data ?? null) : null;
  const [best] = report?.candidates ?? [];
  const shown = report?.candidates.find((one) => one.mount === against) ?? best ?? null;
  return (
    <>
      <div className="sheet bench-sheet" data-thread={report && !found.isFetching ? "settled" : undefined}>
        <div className="screen-head" aria-live="polite">
          <h1>{unbroken(report?.says ?? "Which thread is it? Measure over its crests, and along ten of them.")}</h1>
          <p>
            {report
              ? `Pitch ${mm(report.pitch_mm, 3)} ± ${mm(report.pitch_uncertainty_mm, 3)} mm.`
              : "Jaws across the crests for the diameter; along the thread, over as many turns as there are."}
          </p>
        </div>
        {!report && <ThreadHow />}
        {report && shown && (
          <ThreadSheet
            pitchMm={report.pitch_mm}
            otherMm={shown.pitch_mm}
            turns={shown.turns !== null && Math.abs(shown.pitch_mm - report.pitch_mm) > 0.02 ? shown.turns : null}
            starts={shown.starts}
            label={`what was measured, ${mm(report.pitch_mm)} mm a turn`}
            otherLabel={`${shown.name}, ${mm(shown.diameter_mm, 1)} × ${mm(shown.pitch_mm)}`}
          />
        )}
      </div>
      <div className="below bench-below">
        <Asked written={written} onChange={setWritten} />
        {found.error && known ? (
          <Failed error={found.error} onRetry={() => void found.refetch()} />
        ) : (
          report && (
            <Candidates
              report={report}
              written={written}
              against={shown?.mount ?? null}
              onShow={setAgainst}
              onChange={setWritten}
            />
          )
        )}
      </div>
    </>
  );
}

const FIELDS = [
  ["diameter", "over the crests, mm", "across the bore, mm"],
  ["length", "along the thread, mm", "along the thread, mm"],
  ["pitches", "so many turns", "so many turns"],
] as const;

function Asked({ written, onChange }: { written: Written; onChange: (next: Written) => void }) {
  return (
    <section data-section="thread">
      <h2>Measured</h2>
      <div className="toggles" role="group" aria-label="Which side">
        {(["male", "female"] as const).map((side) => (
          <Plain
            key={side}
            className="filter-toggle"
            aria-pressed={written.side === side}
            onClick={() => onChange({ ...written, side })}
          >
            {side === "male" ? "outside thread" : "inside thread"}
          </Plain>
        ))}
      </div>
      <div className="bench-actions">
        {FIELDS.map(([key, male, female]) => (
          <label key={key} className="bench-field">
            <span>{written.side === "male" ? male : female}</span>
            <Input
              inputMode="decimal"
              value={written[key]}
              aria-invalid={written[key] !== "" && numberIn(written[key]) === null}
              onChange={(event) => onChange({ ...written, [key]: event.target.value })}
              data-field={key}
            />
          </label>
        ))}
      </div>
      <p className="setup-caution">
        A thread that binds is never forced. A stuck ring is freed with cloth, both hands and patience, never with
        pliers on its thread.
      </p>
    </section>
  );
}

interface CandidatesProps {
  report: ThreadReport;
  written: Written;
  against: string | null;
  onShow: (mount: string) => void;
  onChange: (next: Written) => void;
}

/** The threads of the collection, the likeliest first; a known part that was tried counts. */
function Candidates({ report, written, against, onShow, onChange }: CandidatesProps) {
  const tried = (mount: string) => written.tried.find((one) => one.mount === mount) ?? null;
  const put = (mount: string, outcome: (typeof OUTCOMES)[number][0] | null, turns: number | null) =>
    onChange({
      ...written,
      tried: [
        ...written.tried.filter((one) => one.mount !== mount),
        ...(outcome === null ? [] : [{ mount, outcome, turns }]),
      ],
    });
  return (
    <section data-section="candidates">
      <h2>What it may be, and what known parts do on it</h2>
      <ul className="bench-series">
        {report.candidates.map((one) => {
          const own = tried(one.mount);
          return (
            <li key={one.mount} data-candidate={one.mount} data-share={one.share.toFixed(3)}>
              <Plain className="unfold" aria-pressed={one.mount === against} onClick={() => onShow(one.mount)}>
                {`${one.name} ${mm(one.diameter_mm, 1)} × ${mm(one.pitch_mm)}`}
              </Plain>
              <span>{`, ${percent(one.share)}`}</span>
              <span className="toggles" role="group" aria-label={`A part of ${one.name}`}>
                {OUTCOMES.map(([outcome, label]) => (
                  <Plain
                    key={outcome}
                    className="filter-toggle"
                    aria-pressed={own?.outcome === outcome}
                    onClick={() => put(one.mount, own?.outcome === outcome ? null : outcome, null)}
                  >
                    {label}
                  </Plain>
                ))}
                {own?.outcome === "binds" && (
                  <label className="bench-field">
                    <span>turns</span>
                    <Input
                      inputMode="decimal"
                      defaultValue={own.turns == null ? "" : String(own.turns)}
                      data-field="turns"
                      onBlur={(event) => {
                        const turns = numberIn(event.target.value);
                        put(one.mount, "binds", turns !== null && turns > 0 && turns <= 50 ? turns : null);
                      }}
                    />
                  </label>
                )}
              </span>
            </li>
          );
        })}
      </ul>
    </section>
  );
}
