import { useCallback, useEffect } from "react";
import { useNavigate } from "react-router";

import { usePractices } from "../../app/Practices";
import { type Help, type Keys, useScreen } from "../../app/screen";
import { type Address, useAddress } from "../../app/useAddress";
import type { Words } from "../../app/useChange";
import { usePairPickers } from "../../parts/usePairPickers";
import { ANOTHER } from "./another";
import { addressOf, VIEWS } from "./viewNames";

interface Props {
  address: Address;
  change: (next: Words, replace?: boolean) => void;
  /** The names that the answer tells already. */
  names: Record<string, string>;
  title: string;
  answer: string | undefined;
  waiting: boolean;
  help: Help;
  keys: Keys;
}

/** Title, pickers and keys of every view; the error of an unknown end, and the end that is to be picked. */
export function useFrameScreen({ address, change, names, title, answer, waiting, help, keys }: Props) {
  const navigate = useNavigate();
  const { lens, body } = address;
  const opening = useOpening();
  const pickEnd = useCallback(
    (kind: "lens" | "body", id: string | null) => change({ ...ANOTHER, [kind]: id }, false),
    [change],
  );
  const pickers = usePairPickers(lens, body, names, pickEnd);
  const { error } = pickers;
  const words = () => new URLSearchParams(window.location.search);
  useScreen({
    title: pickers.lens && pickers.body ? `${title}: ${pickers.lens.name} on ${pickers.body.name}` : title,
    answer,
    busy: waiting && !error,
    className: "frame",
    help,
    keys: {
      ...pickers.keys,
      ...Object.fromEntries(VIEWS.map(({ view, key }) => [key, () => void navigate(addressOf(words(), view))])),
      ...keys,
    },
    pair: pickers.pair,
  });
  const first = lens === null ? ("lens" as const) : ("body" as const);
  const missing = opening || (lens !== null && body !== null) ? null : first;
  return { error, missing };
}

/** Where nothing is named, the sample's pair, or one's own first one. */
function useOpening() {
  const [address, go] = useAddress();
  const { start, own } = usePractices();
  const opening = address.fresh ? start.pair : null;
  useEffect(() => {
    if (opening) go({ lens: opening.lens, body: opening.body, practice: own }, true);
  }, [opening, own, go]);
  return opening !== null;
}
