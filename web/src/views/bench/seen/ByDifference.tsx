import { useQuery } from "@tanstack/react-query";

import { differencesQuery, type RigQuery } from "../../../api/benchQueries";
import { WriteMeasured } from "../WriteMeasured";

/** Against another lens on the same ring and body, or another body under both: the ring drops out. */
export function ByDifference({ query }: { query: RigQuery }) {
  const found = useQuery(differencesQuery(query));
  const ends = [
    ["lenses", query.lens, "this lens", found.data?.lens ?? []],
    ["bodies", query.body, "this body", found.data?.body ?? []],
  ] as const;
  return (
    <section data-section="difference">
      <h2>By difference</h2>
      {ends.every(([, , , against]) => against.length === 0) ? (
        <p className="route-gives">
          Keep a trial of this rig, and one of another lens on the same ring and body (or of another body under the same
          lens and ring): the ring drops out, and a flange distance that nobody knows is told by one that is known.
        </p>
      ) : (
        ends.map(([kind, id, what, against]) =>
          against.map((one) => (
            <div key={`${kind} ${one.id}`} data-against={one.id}>
              <p>{`The flange distance of ${what}: ${one.says}.`}</p>
              <WriteMeasured kind={kind} id={id} fields={one.fields} says={`by difference: ${one.says}`} />
            </div>
          )),
        )
      )}
    </section>
  );
}
