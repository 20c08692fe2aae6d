import { useCallback, useRef, useState } from "react";

import type { ShelfRow } from "../../api/client";

/** Rows that are selected together; with Shift, all from the last one on. */
export function useSelection(rows: readonly ShelfRow[]) {
  const [selected, setSelected] = useState<ReadonlySet<string>>(new Set());
  const last = useRef<string | null>(null);
  const select = useCallback(
    (id: string, through: boolean) => {
      const from = last.current;
      last.current = id;
      setSelected((before) => {
        const next = new Set(before);
        if (through && from !== null) {
          const places = [from, id].map((one) => rows.findIndex((row) => row.id === one));
          const [a = 0, b = 0] = places.sort((x, y) => x - y);
          for (const row of rows.slice(a, b + 1)) next.add(row.id);
        } else if (!next.delete(id)) next.add(id);
        return next;
      });
    },
    [rows],
  );
  const none = useCallback(() => {
    setSelected(new Set());
  }, []);
  const all = () => {
    setSelected(new Set(rows.map(({ id }) => id)));
  };
  return { selected, select, none, all };
}
