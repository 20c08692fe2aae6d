import { keepPreviousData, useQuery } from "@tanstack/react-query";

import { lensReadQuery } from "../../api/queries";

/** What is known of a lens that is looked at: chosen by hand, else as it was read. */
export interface Seen {
  mount: string | null;
  focal: number | null;
  long: number | null;
  fNumber: number | null;
  fLong: number | null;
  generation: string | null;
  /** Nothing could be made of what was typed. */
  unread: boolean;
  doubts: readonly string[];
  settled: boolean;
}

const number = (text: string | null) => {
  const value = Number(text);
  return text !== null && value > 0 && value <= 10_000 ? value : null;
};

/** The question stands in the address, so that it can be kept, sent and gone back on. */
export function useSeen(address: URLSearchParams): Seen {
  const text = (address.get("q") ?? "").trim();
  const read = useQuery({
    ...lensReadQuery(text),
    enabled: text !== "",
    placeholderData: keepPreviousData,
  });
  const said = text === "" ? null : (read.data ?? null);
  const byHand = number(address.get("mm"));
  const zoom = byHand === null;
  return {
    mount: address.get("mount") ?? said?.mount ?? null,
    focal: byHand ?? said?.focal_mm ?? null,
    long: zoom ? (said?.focal_long_mm ?? null) : number(address.get("to")),
    fNumber: said?.f_number ?? null,
    fLong: said?.f_number_at_long_end ?? null,
    generation: address.get("gen"),
    unread: said?.mount === null && said.focal_mm === null && !read.isPlaceholderData,
    doubts: said?.doubts ?? [],
    settled: text === "" || (read.isSuccess && !read.isPlaceholderData),
  };
}
