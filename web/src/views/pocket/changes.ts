import type { Pocket } from "../../pocket/store";

type Fit = Pocket["systems"][number]["generations"][number]["fits"][number];
type Rig = Pocket["rigs"][number];
type Outing = Pocket["outings"][number];

/** What was carried before the last document came, held against what is shown; `undefined`: it is new, `null`: the same. */
export interface Changes {
  fit: (mount: string, generation: string | null, fit: Fit) => Fit | null | undefined;
  rig: (rig: Rig) => Rig | null | undefined;
  outing: (outing: Outing) => Outing | null | undefined;
}

const same = (one: unknown, other: unknown) => JSON.stringify(one) === JSON.stringify(other);
const against = <T>(now: T, was: T | undefined) => (was !== undefined && same(now, was) ? null : was);

export function changesSince(before: Pocket | null): Changes {
  if (!before) return { fit: () => null, rig: () => null, outing: () => null };
  return {
    fit: (mount, generation, fit) =>
      against(
        fit,
        before.systems
          .find((one) => one.mount === mount)
          ?.generations.find(({ id }) => id === generation)
          ?.fits.find(({ body }) => body === fit.body),
      ),
    rig: (rig) =>
      against(
        rig,
        before.rigs.find(({ id }) => id === rig.id),
      ),
    // What is packed changes all the time: it is no other answer.
    outing: (outing) => {
      const was = before.outings.find(({ id }) => id === outing.id);
      return against(outing, was && { ...was, ticked: outing.ticked });
    },
  };
}

/** How many answers are others than before. */
export function countChanges(pocket: Pocket, before: Pocket | null): number {
  const changes = changesSince(before);
  const fits = pocket.systems.flatMap(({ mount, generations }) =>
    generations.flatMap((one) => one.fits.filter((fit) => changes.fit(mount, one.id, fit) !== null)),
  );
  const rigs = pocket.rigs.filter((rig) => changes.rig(rig) !== null);
  return fits.length + rigs.length + pocket.outings.filter((one) => changes.outing(one) !== null).length;
}
