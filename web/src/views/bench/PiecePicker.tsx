import { useQuery } from "@tanstack/react-query";
import Select from "antd/es/select";
import { useState } from "react";

import { type BenchKind, benchPiecesQuery } from "../../api/benchQueries";

interface Props {
  label: string;
  value: { kind: BenchKind; id: string; name: string } | null;
  mountless?: boolean;
  onPick: (kind: BenchKind, id: string) => void;
}

const KINDS = { adapters: "ring", lenses: "lens", bodies: "body" } as const;

/** Finds a piece by any part of its name; those at hand come first. */
export function PiecePicker({ label, value, mountless = false, onPick }: Props) {
  const [text, setText] = useState("");
  const [open, setOpen] = useState(false);
  const found = useQuery({ ...benchPiecesQuery(text, mountless), enabled: open });
  return (
    <Select
      className="piece-picker"
      aria-label={label}
      placeholder={label}
      labelInValue
      showSearch={{ filterOption: false, searchValue: text, onSearch: setText }}
      value={value === null ? null : { value: `${value.kind} ${value.id}`, label: value.name }}
      options={(found.data ?? []).map((one) => ({
        value: `${one.kind} ${one.id}`,
        label: `${one.name} (${KINDS[one.kind]}${one.at_hand ? "" : ", not owned"})`,
      }))}
      notFoundContent={found.isPending ? "Searching…" : `Nothing holds “${text}”`}
      open={open}
      onOpenChange={setOpen}
      onChange={(chosen: { value: string; label: string } | null) => {
        const [kind, id] = (chosen?.value ?? "").split(" ");
        if (kind && id) onPick(kind as BenchKind, id);
        setText("");
      }}
      popupMatchSelectWidth={false}
      listHeight={320}
    />
  );
}
