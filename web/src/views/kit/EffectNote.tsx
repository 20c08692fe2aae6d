import { useQuery } from "@tanstack/react-query";
import { ProblemError } from "../../api/client";
import { effectQuery, type Kind } from "../../api/queries";
import type { Chosen } from "../../app/practice";
import { EffectTold } from "../../parts/EffectTold";
import { labelOf } from "../../parts/labels";
import { type Fields, trimmed } from "../../parts/fields";
import { useSettled } from "../../parts/useSettled";

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
        <EffectTold effect={effect.data} kind={kind} />
      ) : null}
    </section>
  );
}
