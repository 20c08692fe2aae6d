import { useQuery } from "@tanstack/react-query";

import type { RigQuery } from "../../api/benchQueries";
import { matchQuery } from "../../api/queries";
import type { Address } from "../../app/useAddress";

export interface BenchRig {
  lens: string | null;
  body: string | null;
  /** The chain in the address, else the best; null until it is known, or where nothing fits. */
  via: string | null;
  /** Names of the pieces of the pair. */
  names: Record<string, string>;
  query: RigQuery | null;
  nothingFits: string | null;
  /** What a rig breaks that must not be put together. */
  danger: string | null;
  settled: boolean;
  error: Error | null;
  again: () => void;
}

/**
 * The pair of the address with its chain: the one that is named, or the best. One that must not be put together is
 * looked at where somebody says that it is (``mounted``).
 */
export function useRig(address: Address, mounted: boolean): BenchRig {
  const { lens, body, practice } = address;
  const both = lens !== null && body !== null;
  const match = useQuery({
    ...matchQuery({
      lens: lens ?? "",
      body: body ?? "",
      practice,
      ...(address.via === null ? {} : { via: address.via }),
    }),
    enabled: both,
  });
  const route = match.data?.open;
  const danger = route?.grade === "danger";
  const via = address.via ?? route?.adapters.join(",") ?? null;
  const names = match.data?.names ?? {};
  return {
    lens,
    body,
    via,
    names,
    query: both && via !== null && (!danger || mounted) ? { practice, lens, body, via } : null,
    danger: danger ? (match.data?.sentence ?? "") : null,
    settled: !both || match.isSuccess,
    nothingFits: both && match.isSuccess && !route ? match.data.sentence : null,
    error: match.error,
    again: () => void match.refetch(),
  };
}

export interface RigProps {
  rig: BenchRig;
}
