import "./EffectNote.css";

import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";

import { type Effect, ProblemError } from "../../api/client";
import { effectQuery, type Kind } from "../../api/queries";
import type { Chosen } from "../../app/practice";
import { gradeTitle, GradeMark } from "../../drawing/GradeMark";
import { labelOf } from "../../parts/labels";
import { type Fields, trimmed } from "../../parts/fields";

function useSettled<T>(value: T, ms: number): T {
  const [settled, setSettled] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(value), ms);
    return () => clearTimeout(timer);
  }, [value, ms]);
  return settled;
}

interface Props {
  kind: Kind;
  item: Fields;
  /** What an item of this kind cannot be without. */
  required: readonly string[];
  practice: Chosen;
}

/** What a change does to the best grades of what is at hand, and to saved rigs, while it is written. */
export function EffectNote({ kind, item, required, practice }: Props) {
  const missing = required.filter((key) => key !== "id" && key !== "name" && item[key] === undefined);
  // What it is called decides nothing.
  const written = useSettled(JSON.stringify({ name: "New", ...trimmed(item) }), 200);
  const effect = useQuery({
    ...effectQuery(kind, JSON.parse(written) as Fields, practice),
    enabled: missing.length === 0,
  });
  const wrong = effect.error instanceof ProblemError ? effect.error.problem.errors : [];
  return (
    <section
      className="effect"
      aria-live="polite"
      data-effect={
        missing.length ? "incomplete" : effect.isFetching ? "busy" : effect.isError ? "incomplete" : "settled"
      }
    >
      <h3>What this does</h3>
      {missing.length > 0 ? (
        <p className="route-gives">{`Still to say: ${missing.map(labelOf).join("; ")}.`}</p>
      ) : effect.isError ? (
        <p className="route-gives">
          {wrong.length
            ? `Not right yet: ${wrong
                .slice(0, 3)
                .map((one) => `${one.place}: ${one.message}`)
                .join("; ")}.`
            : effect.error.message}
        </p>
      ) : effect.data ? (
        <Told effect={effect.data} kind={kind} />
      ) : null}
    </section>
  );
}

function Told({ effect, kind }: { effect: Effect; kind: Kind }) {
  if (effect.pairs.length === 0 && effect.rigs.length === 0) {
    return (
      <p className="route-gives">
        {effect.judged
          ? `No best grade changes, of ${effect.judged} pairs judged.`
          : "It touches no grade by itself."}
      </p>
    );
  }
  const more = effect.better + effect.worse - Math.min(effect.pairs.length, 8);
  return (
    <>
      <p>
        <strong>
          {[effect.better ? `${effect.better} better` : "", effect.worse ? `${effect.worse} worse` : ""]
            .filter(Boolean)
            .join(", ") || "No pair changes"}
        </strong>
        {` of ${effect.judged} pairs at hand`}
      </p>
      <ul className="effect-pairs">
        {effect.pairs.slice(0, 8).map((pair) => (
          <li key={`${pair.lens} ${pair.body}`} data-pair={`${pair.lens} ${pair.body}`}>
            <span className="effect-marks">
              {pair.before ? <GradeMark grade={pair.before} size={17} /> : <span className="cell-nothing" />}
              <span aria-hidden="true">→</span>
              {pair.after ? <GradeMark grade={pair.after} size={17} /> : <span className="cell-nothing" />}
            </span>
            <span>
              {kind === "lenses"
                ? pair.body_name
                : kind === "bodies"
                  ? pair.lens_name
                  : `${pair.lens_name} on ${pair.body_name}`}
            </span>
            <span className="route-gives">{pair.after ? gradeTitle(pair.after) : "nothing joins them"}</span>
          </li>
        ))}
      </ul>
      {more > 0 && <p className="route-gives">{`and ${more} more`}</p>}
      {effect.rigs.map((rig) => (
        <p
          key={rig.id}
          className="warning"
          data-rig={rig.id}
        >{`Saved rig “${rig.name}”: ${gradeTitle(rig.before)} → ${gradeTitle(rig.after)}.`}</p>
      ))}
    </>
  );
}
