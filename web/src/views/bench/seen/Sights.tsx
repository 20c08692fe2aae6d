import { useState } from "react";
import { Link, useSearchParams } from "react-router";

import type { RigSeen, SawWritten, SeenReport, SightShown } from "../../../api/benchQueries";
import { SightPicture } from "../../../drawing/bench/SightPicture";
import { numberIn } from "../useKept";
import { addressOf } from "../viewNames";

interface Props {
  sights: readonly SightShown[];
  report: SeenReport;
  seen: RigSeen;
  onChange: (seen: RigSeen) => void;
}

const UNITS = { distance: "m", f_number: "", length: "mm" } as const;

/** What can be seen, in any number: each with what to look at, and its doubt. */
export function Sights({ sights, report, seen, onChange }: Props) {
  const { saw } = seen;
  const [words] = useSearchParams();
  const put = (kind: SawWritten["kind"], next: SawWritten | null) => {
    const others = saw.filter((one) => one.kind !== kind);
    const order = sights.map((one) => one.kind);
    const all = next === null ? others : [...others, next];
    all.sort((one, other) => order.indexOf(one.kind) - order.indexOf(other.kind));
    onChange({ ...seen, saw: all });
  };
  return (
    <section data-section="sights">
      <h2>What do you see?</h2>
      <ul className="bench-sights">
        {sights.map((sight) => {
          const own = saw.find((one) => one.kind === sight.kind) ?? null;
          const wrong = report.observations.find((one) => one.kind === sight.kind)?.wrong ?? "";
          return (
            <Sight
              key={sight.kind}
              sight={sight}
              own={own}
              next={report.next_best === sight.kind}
              wrong={own === null ? "" : wrong}
              onPut={(next) => put(sight.kind, next)}
            />
          );
        })}
      </ul>
      <p>
        <Link to={addressOf(words, "frames")}>
          One side, the edges or the middle is soft: which frame tells
        </Link>
      </p>
      <div className="bench-actions">
        <label className="bench-check">
          <input
            type="checkbox"
            checked={seen.nameless}
            onChange={(event) => onChange({ ...seen, nameless: event.target.checked })}
          />
          <span>The ring has no name: nothing is stated of it</span>
        </label>
        {saw.length > 0 && (
          <button type="button" className="unfold" onClick={() => onChange({ ...seen, saw: [] })}>
            begin again
          </button>
        )}
      </div>
    </section>
  );
}

interface SightProps {
  sight: SightShown;
  own: SawWritten | null;
  next: boolean;
  wrong: string;
  onPut: (next: SawWritten | null) => void;
}

/** One thing to look at: chosen, its values are asked. */
function Sight({ sight, own, next, wrong, onPut }: SightProps) {
  const [open, setOpen] = useState(false);
  const [texts, setTexts] = useState<string[]>(() =>
    sight.values.map((_, index) => (own?.values[index] === undefined ? "" : String(own.values[index]))),
  );
  const [doubt, setDoubt] = useState(own?.doubt == null ? "" : String(own.doubt));
  const [fromFront, setFromFront] = useState(own?.from_front ?? false);
  const on = open || own !== null;
  const metres = sight.values.some((value) => value.what === "distance");
  const taped = sight.values.some((value) => value.name === "distance");
  const say = (nextTexts: string[], nextDoubt: string, front = fromFront) => {
    setTexts(nextTexts);
    setDoubt(nextDoubt);
    setFromFront(front);
    const values = nextTexts.map(numberIn);
    const enough = sight.values.every((value, index) => value.optional || values[index] != null);
    const given = values.filter((value) => value !== null);
    const unsure = numberIn(nextDoubt);
    onPut(
      enough
        ? {
            kind: sight.kind,
            values: given,
            doubt: unsure !== null && unsure > 0 ? unsure : null,
            from_front: front && taped,
          }
        : null,
    );
  };
  return (
    <li data-sight={sight.kind} className={own === null ? "" : "seen"}>
      <button
        type="button"
        className="bench-sight"
        aria-expanded={on}
        onClick={() => {
          setOpen(!on);
          if (on) onPut(null);
          else if (sight.values.length === 0)
            onPut({ kind: sight.kind, values: [], doubt: null, from_front: false });
          else say(texts, doubt);
        }}
      >
        <SightPicture kind={sight.kind} />
        <span>{sight.label}</span>
        {next && <span className="bench-next">this would tell most</span>}
      </button>
      {on && (
        <div className="bench-sight-open">
          <p>{sight.look}</p>
          <div className="bench-actions">
            {sight.values.map((value, index) => (
              <label key={value.name} className="bench-field">
                <span>{`${value.label}${UNITS[value.what] ? `, ${UNITS[value.what]}` : ""}`}</span>
                <input
                  type="text"
                  inputMode="decimal"
                  value={texts[index] ?? ""}
                  aria-invalid={texts[index] !== "" && numberIn(texts[index] ?? "") === null}
                  data-field={value.name}
                  onChange={(event) =>
                    say(
                      texts.map((text, other) => (other === index ? event.target.value : text)),
                      doubt,
                    )
                  }
                />
              </label>
            ))}
            {metres && (
              <label className="bench-field">
                <span>{`give or take, m (else ${sight.usual_doubt})`}</span>
                <input
                  type="text"
                  inputMode="decimal"
                  value={doubt}
                  data-field="doubt-of"
                  onChange={(event) => say(texts, event.target.value)}
                />
              </label>
            )}
          </div>
          {taped && (
            <div className="toggles" role="group" aria-label="Measured from">
              <span>{"measured from "}</span>
              {([false, true] as const).map((front) => (
                <button
                  key={String(front)}
                  type="button"
                  className="filter-toggle"
                  aria-pressed={fromFront === front}
                  onClick={() => say(texts, doubt, front)}
                >
                  {front ? "the front of the lens" : "the film-plane mark"}
                </button>
              ))}
            </div>
          )}
          {wrong && <p className="problem-line">{wrong}</p>}
        </div>
      )}
    </li>
  );
}
