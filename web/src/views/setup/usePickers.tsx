import type { RefSelectProps } from "antd/es/select";
import { useMemo, useRef } from "react";
import { useNavigate } from "react-router";

import { Pickers } from "../../parts/Pickers";
import { useNamed } from "../../parts/useNamed";

/** The pair in the header. Another end is another rig: one that was kept is left as it is. */
export function usePickers(lens: string, body: string, names: Record<string, string>) {
  const navigate = useNavigate();
  const lensPicker = useRef<RefSelectProps>(null);
  const bodyPicker = useRef<RefSelectProps>(null);
  const idOf = (id: string) => (id === "" ? null : id);
  const one = useNamed("lens", idOf(lens), names[lens]);
  const other = useNamed("body", idOf(body), names[body]);
  const pair = useMemo(
    () => (
      <Pickers
        lens={one.named}
        body={other.named}
        lensPicker={lensPicker}
        bodyPicker={bodyPicker}
        onPick={(kind, id) => {
          const words = new URLSearchParams({ lens, body });
          if (id === null) words.delete(kind);
          else words.set(kind, id);
          void navigate(`/setup?${words.toString()}`);
        }}
      />
    ),
    [one.named, other.named, lens, body, navigate],
  );
  const keys = {
    l: () => lensPicker.current?.focus(),
    b: () => bodyPicker.current?.focus(),
  };
  return { pair, keys, error: one.error ?? other.error };
}
