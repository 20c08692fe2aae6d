import type { RefSelectProps } from "antd/es/select";
import { useCallback, useMemo, useRef } from "react";

import { Pickers } from "./Pickers";
import { useNamed } from "./useNamed";

type End = "lens" | "body";

/** The pair in the header: its pickers, the keys that lead to them, the error of an unknown end. */
export function usePairPickers(
  lens: string | null,
  body: string | null,
  /** The names that an answer tells already. */
  names: Record<string, string | undefined>,
  onPick: (kind: End, id: string | null) => void,
) {
  const lensPicker = useRef<RefSelectProps>(null);
  const bodyPicker = useRef<RefSelectProps>(null);
  const known = (id: string | null) => (id === null ? undefined : names[id]);
  const one = useNamed("lens", lens, known(lens));
  const other = useNamed("body", body, known(body));
  const pair = useMemo(
    () => (
      <Pickers lens={one.named} body={other.named} lensPicker={lensPicker} bodyPicker={bodyPicker} onPick={onPick} />
    ),
    [one.named, other.named, onPick],
  );
  const focus = useCallback((end: End) => (end === "body" ? bodyPicker : lensPicker).current?.focus(), []);
  return {
    pair,
    focus,
    keys: { l: () => focus("lens"), b: () => focus("body") },
    lens: one.named,
    body: other.named,
    error: one.error ?? other.error,
  };
}
