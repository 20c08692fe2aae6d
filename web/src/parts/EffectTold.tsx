import "./EffectTold.css";

import type { Effect } from "../api/client";
import type { Kind } from "../api/queries";
import { gradeTitle, GradeMark } from "../drawing/GradeMark";

/** What a change does to the best grades of what is at hand, and to saved rigs. */
export function EffectTold({ effect, kind }: { effect: Effect; kind: Kind }) {
  if (effect.pairs.length === 0 && effect.rigs.length === 0) {
    return (
      <p className="route-gives">
        {effect.judged ? `No best grade changes, of ${effect.judged} pairs judged.` : "It touches no grade by itself."}
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
        {` of ${effect.judged} pairs you own`}
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
