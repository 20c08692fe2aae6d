import "./Picker.css";

import { useQuery } from "@tanstack/react-query";
import Select, { type RefSelectProps } from "antd/es/select";
import { memo, type RefObject, useState } from "react";

import type { Found } from "../api/client";
import { pickerQuery } from "../api/queries";
import { mm } from "./format";

interface Props {
  kind: "lens" | "body";
  value: { id: string; name: string } | null;
  onPick: (id: string | null) => void;
  picker: RefObject<RefSelectProps | null>;
}

const HINTS = { lens: "Lens: any part of its name or mount", body: "Body: any part of its name or mount" };

/** Finds a lens or a body by any part of its names or its mount's aliases. */
export const Picker = memo(function Picker({ kind, value, onPick, picker }: Props) {
  const [text, setText] = useState("");
  const [open, setOpen] = useState(false);
  const found = useQuery({ ...pickerQuery(kind === "lens" ? "lenses" : "bodies", text), enabled: open });
  const items = found.data?.items ?? [];
  const more = (found.data?.total ?? 0) - items.length;
  return (
    <div className={`picker picker-${kind}`}>
      <Select
        ref={picker}
        aria-label={kind === "lens" ? "Lens" : "Body"}
        className="picker-select"
        placeholder={HINTS[kind]}
        labelInValue
        allowClear
        showSearch={{ filterOption: false, searchValue: text, onSearch: setText }}
        value={value === null ? null : { value: value.id, label: value.name }}
        options={items.map((item) => ({ value: item.id, label: item.name, item }))}
        optionRender={(option) => <Entry item={(option.data as { item: Found }).item} />}
        notFoundContent={found.isPending ? "Searching…" : `No ${kind} holds “${text}”`}
        onChange={(chosen: { value: string; label: React.ReactNode } | null | undefined) => {
          onPick(chosen?.value ?? null);
          setText("");
        }}
        open={open}
        onOpenChange={setOpen}
        popupRender={(menu) => (
          <>
            {menu}
            {more > 0 && <div className="picker-more">{`${more} more: type further`}</div>}
          </>
        )}
        popupMatchSelectWidth={false}
        classNames={{ popup: { root: "picker-popup" } }}
        listHeight={320}
      />
    </div>
  );
});

function Entry({ item }: { item: Found }) {
  return (
    <span className="entry">
      <span className="entry-name">{item.name}</span>
      <span className="entry-mount">
        {item.mount_name}
        {item.owned > 0 ? "" : ", not owned"}
      </span>
      <span className="entry-register">{item.register_mm === null ? "" : `${mm(item.register_mm)} mm`}</span>
    </span>
  );
}
