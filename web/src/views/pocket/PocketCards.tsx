import { useState } from "react";
import { useSearchParams } from "react-router";

import { usePractices } from "../../app/Practices";
import { GradeMark, gradeWord } from "../../drawing/GradeMark";
import { distance } from "../../parts/format";
import { Plain } from "../../parts/Plain";
import { useTicks } from "../../parts/useTicks";
import type { Pocket } from "../../pocket/store";
import type { Changes } from "./changes";
import { Changed } from "./PocketFits";

type Rig = Pocket["rigs"][number];

/** Kept rigs: their cards to tick off, what is entered, their depth of field. */
export function PocketCards({ pocket, changes }: { pocket: Pocket; changes: Changes }) {
  const [address, setAddress] = useSearchParams();
  const rig = pocket.rigs.find(({ id }) => id === address.get("rig"));
  const choose = (id: string | null) =>
    setAddress((now) => {
      const next = new URLSearchParams(now);
      if (id === null) next.delete("rig");
      else next.set("rig", id);
      return next;
    });
  if (pocket.rigs.length === 0)
    return (
      <>
        <h1>No rig is kept.</h1>
        <p>On the light path, “Keep this rig” gives a route a name: its card is carried from then on.</p>
      </>
    );
  if (rig)
    return (
      <>
        <Plain className="unfold pocket-back" onClick={() => choose(null)}>
          all cards
        </Plain>
        <PocketCard rig={rig} was={changes.rig(rig)} />
      </>
    );
  return (
    <>
      <h1>Cards</h1>
      <ul className="pocket-mounts">
        {pocket.rigs.map((one) => {
          const was = changes.rig(one);
          return (
            <li key={one.id}>
              <Plain onClick={() => choose(one.id)}>
                <b>{one.name}</b>
                <span>{one.pieces}</span>
                <span>{one.grade ? gradeWord(one.grade) : "not judged"}</span>
                {was !== null && <Changed was={was?.grade ? gradeWord(was.grade) : ""} />}
              </Plain>
            </li>
          );
        })}
      </ul>
    </>
  );
}

function PocketCard({ rig, was }: { rig: Rig; was: Rig | null | undefined }) {
  const { done, toggle, clear, error } = useTicks({ lens: rig.lens, body: rig.body, adapters: rig.adapters.join(",") });
  return (
    <article className="pocket-card">
      <h1>
        {rig.grade && <GradeMark grade={rig.grade} />} {rig.name}
      </h1>
      <p className="pocket-note">{rig.pieces}</p>
      {was !== null && <Changed was={was ? [was.grade && gradeWord(was.grade), was.sentence].join(": ") : ""} />}
      {[rig.why, rig.sentence, ...rig.usable_says, rig.camera_says, rig.support_says].filter(Boolean).map((one) => (
        <p key={one}>{one}</p>
      ))}
      {rig.minds.map((one) => (
        <p key={one} className="warning">
          {one}
        </p>
      ))}
      {rig.steps.length > 0 && (
        <h2>
          {`${done.size} of ${rig.steps.length} done`}
          {done.size > 0 && (
            <Plain className="unfold" onClick={clear}>
              begin again
            </Plain>
          )}
        </h2>
      )}
      {error && <p role="alert" className="problem-line">{`The ticks are not kept: ${error.message}`}</p>}
      <ol className="pocket-ticks">
        {rig.steps.map(({ text, caution }) => (
          <li key={text} className={caution ? "caution" : ""}>
            <label>
              <input type="checkbox" checked={done.has(text)} onChange={() => toggle(text)} />
              <span>{text}</span>
            </label>
          </li>
        ))}
      </ol>
      {rig.entries.length > 0 && (
        <table className="pocket-table">
          <caption>What the stabiliser is told</caption>
          <tbody>
            {rig.entries.map((entry) => (
              <tr key={entry.focal_length_mm}>
                <th scope="row">{`lens at ${entry.focal_length_mm} mm`}</th>
                <td>{`${entry.entry_mm} mm`}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {rig.depth.length > 0 && <Depth rig={rig} />}
    </article>
  );
}

function Depth({ rig }: { rig: Rig }) {
  const stops = [...new Set(rig.depth.map((one) => one.f_number))];
  const [chosen, choose] = useState(stops[0]);
  const { distances } = usePractices().own;
  const metres = (value: number) => distance(value * 1000, distances);
  return (
    <>
      <h2>Depth of field</h2>
      <div className="pocket-chips" role="group" aria-label="Aperture">
        {stops.map((stop) => (
          <Plain key={stop} aria-pressed={stop === chosen} onClick={() => choose(stop)}>
            {`f/${stop}`}
          </Plain>
        ))}
      </div>
      <table className="pocket-table">
        <thead>
          <tr>
            <th scope="col">Focused at</th>
            <th scope="col">sharp from</th>
            <th scope="col">to</th>
          </tr>
        </thead>
        <tbody>
          {rig.depth
            .filter((one) => one.f_number === chosen)
            .map((one) => (
              <tr key={one.distance_m}>
                <th scope="row">{metres(one.distance_m)}</th>
                <td>{metres(one.near_m)}</td>
                <td>{one.far_m === null ? "∞" : metres(one.far_m)}</td>
              </tr>
            ))}
        </tbody>
      </table>
    </>
  );
}
