import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";

import type { Shelf } from "../../api/client";
import { itemQuery, type Kind, shelfQuery } from "../../api/queries";
import type { Fields } from "../../parts/fields";
import type { Choices, Option } from "./FieldInput";

const named = (shelf: Shelf | undefined): Option[] =>
  (shelf?.rows ?? []).map(({ id, name }) => ({ value: id, label: name }));

/** What of the collection a field may name. */
export function useChoices(kind: Kind, item: Fields): Choices {
  const needsPieces = kind !== "mounts" && kind !== "protocols";
  const mounts = useQuery({ ...shelfQuery("mounts"), enabled: needsPieces });
  const protocols = useQuery({ ...shelfQuery("protocols"), enabled: kind !== "rigs" });
  const lenses = useQuery({ ...shelfQuery("lenses"), enabled: needsPieces });
  const bodies = useQuery({ ...shelfQuery("bodies"), enabled: needsPieces });
  const adapters = useQuery({ ...shelfQuery("adapters"), enabled: needsPieces });
  const accessories = useQuery({ ...shelfQuery("accessories"), enabled: needsPieces });
  const front = kind === "adapters" ? item.lens_mount : item.mount;
  const system = useQuery({
    ...itemQuery("mounts", typeof front === "string" ? front : ""),
    enabled: needsPieces && typeof front === "string",
  });
  const own = kind === "mounts" ? item.features : undefined;
  // The same function as long as the shelves are the same: every field asks it.
  return useMemo(
    () =>
      choicesOf(kind, own ?? system.data?.item.features, system.data?.item.generations, {
        mounts: named(mounts.data),
        protocols: named(protocols.data),
        lenses: named(lenses.data),
        bodies: named(bodies.data),
        adapters: named(adapters.data),
        accessories: named(accessories.data),
      }),
    [kind, own, system.data, mounts.data, protocols.data, lenses.data, bodies.data, adapters.data, accessories.data],
  );
}

type Named = Record<"mounts" | "protocols" | "lenses" | "bodies" | "adapters" | "accessories", Option[]>;

function choicesOf(kind: Kind, featuresOf: unknown, generationsOf: unknown, shelves: Named): Choices {
  const { mounts, protocols, lenses, bodies, adapters, accessories } = shelves;
  const features = featuresOf as { id: string; label: string; side: string }[] | undefined;
  const generations = generationsOf as { id: string; label: string }[] | undefined;
  return (key, path) => {
    switch (key) {
      case "mount":
      case "lens_mount":
      case "body_mount":
        return mounts;
      case "protocol":
      case "protocols":
      case "accepts":
      case "from_protocol":
      case "to_protocol":
        return protocols;
      case "generation":
      case "lens_generation":
        return (generations ?? []).map((one) => ({ value: one.id, label: one.label }));
      case "features":
        if (kind === "mounts") return null;
        return featureOptions(features, "lens");
      case "lens_side_features":
        return featureOptions(features, "body");
      case "lens_features":
      case "lens_has":
      case "lens_lacks":
        return featureOptions(features, "lens");
      case "body_features":
      case "body_has":
      case "body_lacks":
        return featureOptions(features, "body");
      case "adapter":
      case "adapters":
        return adapters;
      case "lens":
        return kind === "rigs" ? lenses : null;
      case "body":
        return kind === "rigs" ? bodies : null;
      case "accessories":
        return accessories;
      case "a":
      case "b":
        return kind === "pairs" ? [accessories, adapters, lenses, bodies].flat() : null;
      case "with":
        return path[0] === "evidence" ? [lenses, adapters, bodies, accessories].flat() : null;
      default:
        return null;
    }
  };
}

const featureOptions = (features: { id: string; label: string; side: string }[] | undefined, side: string): Option[] =>
  (features ?? []).filter((one) => one.side === side).map(({ id, label }) => ({ value: id, label }));
