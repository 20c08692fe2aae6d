import { useMutation, useQueryClient } from "@tanstack/react-query";
import Button from "antd/es/button";
import Input from "antd/es/input/Input";
import { useState } from "react";

import { client, unwrap } from "../../../api/client";
import type { PieceEvent, RecordedKind } from "../../../api/pieceQueries";
import { today } from "../../../parts/format";
import { Plain } from "../../../parts/Plain";
import { Refused } from "../../../parts/Refused";

type What = PieceEvent["what"];

const WHATS: readonly (readonly [What, string, by: string, until: string])[] = [
  ["bought", "bought", "from", ""],
  ["inherited", "inherited", "from", ""],
  ["found", "found", "where", ""],
  ["borrowed", "borrowed", "from", "to be given back"],
  ["given_back", "given back", "to", ""],
  ["lent", "lent", "to", "back by"],
  ["returned", "returned", "by", ""],
  ["serviced", "serviced", "by", ""],
  ["converted", "converted", "by", ""],
  ["modified", "modified", "by", ""],
  ["coded", "coded", "with which ink", "to be renewed"],
  ["measured", "measured", "by", ""],
  ["damaged", "damaged", "by", ""],
  ["sold", "sold", "to", ""],
];

/** Note what happened to a piece. */
export function NoteEvent({ kind, id }: { kind: RecordedKind; id: string }) {
  const queries = useQueryClient();
  const [what, setWhat] = useState<What>("bought");
  const [fields, setFields] = useState({ on: today(), by: "", price: "", until: "", edition: "", note: "" });
  const [, , by, until] = WHATS.find(([one]) => one === what) ?? WHATS[0] ?? ["bought", "", "by", ""];
  const keep = useMutation({
    mutationFn: async () => {
      const price = Number(fields.price.replace(",", "."));
      const event: PieceEvent = {
        piece: { kind, id },
        on: fields.on,
        what,
        by: fields.by.trim(),
        price: fields.price.trim() === "" || Number.isNaN(price) ? null : price,
        note: fields.note.trim(),
        until: until !== "" && fields.until !== "" ? fields.until : null,
        edition: fields.edition.trim(),
      };
      return unwrap(await client.POST("/api/v1/pieces/events", { body: { event } }));
    },
    onSuccess: async () => {
      setFields((now) => ({ ...now, by: "", price: "", until: "", edition: "", note: "" }));
      await queries.invalidateQueries();
    },
  });
  const field = (name: string, key: keyof typeof fields, type = "text", hint = "") => (
    <label className="log-field">
      <span>{name}</span>
      <Input
        type={type}
        value={fields[key]}
        placeholder={hint}
        onChange={(event) => setFields((now) => ({ ...now, [key]: event.target.value }))}
      />
    </label>
  );
  return (
    <form
      className="record-note"
      onSubmit={(event) => {
        event.preventDefault();
        keep.mutate();
      }}
    >
      <h2>What happened</h2>
      <div className="record-whats" role="group" aria-label="What happened">
        {WHATS.map(([key, name]) => (
          <Plain key={key} className="filter-toggle" aria-pressed={key === what} onClick={() => setWhat(key)}>
            {name}
          </Plain>
        ))}
      </div>
      <div className="record-fields">
        {field("On", "on", "date")}
        {field(by.charAt(0).toUpperCase() + by.slice(1), "by")}
        {until !== "" && field(until.charAt(0).toUpperCase() + until.slice(1), "until", "date")}
        {field("Price", "price")}
        {field("Edition and marks", "edition", "text", "coating, smallest stop, engraving")}
        {field("Note", "note", "text", "the ring that lives on it, why it is had")}
      </div>
      {keep.error && <Refused error={keep.error} />}
      <p className="message-actions">
        <Button type="primary" htmlType="submit" loading={keep.isPending}>
          Note it
        </Button>
      </p>
    </form>
  );
}
