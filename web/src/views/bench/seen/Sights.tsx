import Input from "antd/es/input/Input";
import { useState } from "react";
import { Link, useSearchParams } from "react-router";

import type { RigSeen, SawWritten, SeenReport, SightShown } from "../../../api/benchQueries";
import { SightPicture } from "../../../drawing/bench/SightPicture";
import { numberIn } from "../useKept";
import { addressOf } from "../viewNames";
import { Plain } from "../../../parts/Plain";

interface Props {
  sights: readonly SightShown[];
  report: SeenReport;
  seen: RigSeen;
  onChange: (seen: RigSeen) => void;
}

/** One look as it is typed; it counts once its values are there. */
interface Look {
  texts: readonly string[];
  doubt: string;
  fromFront: boolean;
  leftOut: boolean;
}

const UNITS = { distance: "m", f_number: "", length: "mm" } as const;

/** What can be seen, in any number and as often as one looks: each with what to look at, and its doubt. */
export function Sights({ sights, report, seen, onChange }: Props) {
  const { saw } = seen;
  const [words] = useSearchParams();
  const put = (kind: SawWritten["kind"], looks: readonly SawWritten[]) => {
    const order = sights.map((one) => one.kind);
    const all = [...saw.filter((one) => one.kind !== kind), ...looks];
    all.sort((one, other) => order.indexOf(one.kind) - order.indexOf(other.kind));
    onChange({ ...seen, saw: all });
  };
  return (
    <section data-section="sights">
      <h2>What do you see?</h2>
      <ul className="bench-sights">
        {sights.map((sight) => (
          <Sight
            key={sight.kind}
            sight={sight}
            own={saw.filter((one) => one.kind === sight.kind)}
            next={report.next_best === sight.kind}
            told={report.observations
              .map((one, place) => ({ ...one, odd: place === report.most_at_odds }))
              .filter((one) => one.kind === sight.kind)}
            onPut={(looks) => put(sight.kind, looks)}
          />
        ))}
      </ul>
      <p className="message-actions">
        <Link to={addressOf(words, "frames")}>One side, the edges or the middle is soft: which frame tells</Link>
      </p>
      <div className="bench-actions">
        <label className="bench-check">
          <input
            type="checkbox"
            checked={seen.nameless}
            data-field="nameless"
            onChange={(event) => onChange({ ...seen, nameless: event.target.checked })}
          />
          <span>Leave out what is stated of its length: the ring has no name, or is not to be trusted</span>
        </label>
        {saw.length > 0 && (
          <Plain className="unfold" onClick={() => onChange({ ...seen, saw: [] })}>
            begin again
          </Plain>
        )}
      </div>
    </section>
  );
}

type Told = SeenReport["observations"][number] & { odd: boolean };

interface SightProps {
  sight: SightShown;
  own: readonly SawWritten[];
  next: boolean;
  told: readonly Told[];
  onPut: (looks: readonly SawWritten[]) => void;
}

const EMPTY: Look = { texts: [], doubt: "", fromFront: false, leftOut: false };

const lookOf = (saw: SawWritten): Look => ({
  texts: saw.values.map(String),
  doubt: saw.doubt == null ? "" : String(saw.doubt),
  fromFront: saw.from_front,
  leftOut: saw.left_out,
});

/** The look as it is sent; null while a value is missing. */
function sawOf(sight: SightShown, look: Look): SawWritten | null {
  const values = sight.values.map((_, index) => numberIn(look.texts[index] ?? ""));
  if (!sight.values.every((value, index) => value.optional || values[index] != null)) return null;
  const unsure = numberIn(look.doubt);
  return {
    kind: sight.kind,
    values: values.filter((value) => value !== null),
    doubt: unsure !== null && unsure > 0 ? unsure : null,
    from_front: look.fromFront && taped(sight),
    left_out: look.leftOut,
  };
}

const taped = (sight: SightShown) => sight.values.some((value) => value.name === "distance");

/** One thing to look at: chosen, its values are asked; it can be looked at again. */
function Sight({ sight, own, next, told, onPut }: SightProps) {
  const [held, setHeld] = useState<readonly Look[]>(() => own.map(lookOf));
  // Begun again from elsewhere: what was typed here goes too.
  const looks = own.length === 0 && held.every((look) => sawOf(sight, look)) ? [] : held;
  const say = (all: readonly Look[]) => {
    setHeld(all);
    onPut(all.map((look) => sawOf(sight, look)).filter((one) => one !== null));
  };
  const complete = looks.map((look) => sawOf(sight, look) !== null);
  const on = looks.length > 0;
  return (
    <li data-sight={sight.kind} className={own.length === 0 ? "" : "seen"}>
      <Plain className="bench-sight" aria-expanded={on} onClick={() => say(on ? [] : [EMPTY])}>
        <SightPicture kind={sight.kind} />
        <span>{sight.label}</span>
        {next && <span className="bench-next">this would tell most</span>}
      </Plain>
      {on && (
        <div className="bench-sight-open">
          <p>{sight.look}</p>
          {looks.map((look, index) => (
            <LookFields
              key={index}
              sight={sight}
              look={look}
              told={complete[index] ? (told[complete.slice(0, index).filter(Boolean).length] ?? null) : null}
              onChange={(changed) => say(looks.map((one, other) => (other === index ? changed : one)))}
              onRemove={looks.length > 1 ? () => say(looks.filter((_, other) => other !== index)) : null}
            />
          ))}
          {sight.values.length > 0 && complete.every(Boolean) && (
            <Plain className="unfold" data-action="look-again" onClick={() => say([...looks, EMPTY])}>
              I looked again
            </Plain>
          )}
        </div>
      )}
    </li>
  );
}

interface LookProps {
  sight: SightShown;
  look: Look;
  told: Told | null;
  onChange: (look: Look) => void;
  onRemove: (() => void) | null;
}

/** What one look showed. */
function LookFields({ sight, look, told, onChange, onRemove }: LookProps) {
  const { texts, doubt, fromFront, leftOut } = look;
  const metres = sight.values.some((value) => value.what === "distance");
  const put = (place: number, text: string) =>
    onChange({ ...look, texts: sight.values.map((_, at) => (at === place ? text : (texts[at] ?? ""))) });
  return (
    <div className={leftOut ? "bench-look left-out" : "bench-look"}>
      <div className="bench-actions">
        {sight.values.map((value, index) => (
          <label key={value.name} className="bench-field">
            <span>{`${value.label}${UNITS[value.what] ? `, ${UNITS[value.what]}` : ""}`}</span>
            <Input
              inputMode="decimal"
              value={texts[index] ?? ""}
              aria-invalid={(texts[index] ?? "") !== "" && numberIn(texts[index] ?? "") === null}
              data-field={value.name}
              onChange={(event) => put(index, event.target.value)}
            />
          </label>
        ))}
        {metres && (
          <label className="bench-field">
            <span>{`give or take, m (else ${sight.usual_doubt})`}</span>
            <Input
              inputMode="decimal"
              value={doubt}
              data-field="doubt-of"
              onChange={(event) => onChange({ ...look, doubt: event.target.value })}
            />
          </label>
        )}
      </div>
      {taped(sight) && (
        <div className="toggles" role="group" aria-label="Measured from">
          <span>{"measured from "}</span>
          {([false, true] as const).map((front) => (
            <Plain
              key={String(front)}
              className="filter-toggle"
              aria-pressed={fromFront === front}
              onClick={() => onChange({ ...look, fromFront: front })}
            >
              {front ? "the front of the lens" : "the film-plane mark"}
            </Plain>
          ))}
        </div>
      )}
      {told?.wrong && <p className="problem-line">{told.wrong}</p>}
      {told && !told.wrong && (
        <p>
          {told.odd && <span className="warning">{"Most at odds with the rest. "}</span>}
          <Plain
            className="unfold"
            aria-pressed={leftOut}
            data-action="leave-out"
            onClick={() => onChange({ ...look, leftOut: !leftOut })}
          >
            {leftOut ? "count it again" : "leave it out"}
          </Plain>
          {onRemove && (
            <Plain className="unfold" onClick={onRemove}>
              take this look away
            </Plain>
          )}
        </p>
      )}
    </div>
  );
}
