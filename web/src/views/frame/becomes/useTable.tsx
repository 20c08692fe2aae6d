import type { UseQueryResult } from "@tanstack/react-query";
import { type ReactNode, useMemo } from "react";

import type { Becomings } from "../../../api/client";
import { type Numbered, numbered } from "../../../drawing/views";
import { useFrameScreen } from "../useFrameScreen";
import { tableHelp } from "./help";
import { NoTable } from "./Layout";
import { chosenOf, type useBecoming } from "./useBecoming";

interface Props {
  becoming: ReturnType<typeof useBecoming>;
  table: UseQueryResult<Becomings>;
  title: string;
  /** The end that it is about: its id, or "" where it is to be picked; and what the answer is called. */
  end: string;
  answer: string;
}

interface Table {
  rows: readonly Numbered[];
  chosen: Numbered | undefined;
  key: string | null;
  names: Record<string, string>;
  /** What stands there as long as there is no table. */
  instead: ReactNode;
}

/** A table with its numbered rows and the one that is looked at; title, keys and help of its screen. */
export function useTable({ becoming, table, title, end, answer }: Props): Table {
  const { address, change, row } = becoming;
  const { data } = table;
  const rows = useMemo(() => numbered(data?.rows ?? []), [data]);
  const chosen = chosenOf(rows, row, address);
  const names = data?.names ?? {};
  const { error, missing } = useFrameScreen({
    address,
    change,
    names,
    title,
    answer: table.isSuccess && !table.isPlaceholderData ? `${answer} ${end}` : undefined,
    waiting: end !== "" && table.isPending,
    help: tableHelp(title),
    keys: {},
  });
  const failure = table.error ?? error;
  let instead: ReactNode = null;
  if (failure) instead = <NoTable error={failure} onRetry={() => void table.refetch()} />;
  else if (end === "") instead = <NoTable pick={missing} />;
  else if (!data) instead = <NoTable />;
  return { rows, chosen, key: chosen?.row.key ?? null, names, instead };
}
