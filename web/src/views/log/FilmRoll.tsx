import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import Button from "antd/es/button";
import Input from "antd/es/input/Input";
import InputNumber from "antd/es/input-number";
import Select from "antd/es/select";
import { useEffect, useState } from "react";

import { client, unwrap } from "../../api/client";
import { type RollPage, rollsQuery } from "../../api/logQueries";
import { about } from "../../api/queries";
import { Refused } from "../../parts/Refused";
import type { Settings } from "./settings";

interface Props {
  body: string;
  settings: Settings;
  onChange: (changed: Partial<Settings>) => void;
}

/** The roll in a film body and the number of its next frame: a skipped or doubled one is set here, none is renumbered. */
export function FilmRoll({ body, settings, onChange }: Props) {
  const rolls = useQuery(rollsQuery);
  const [beginning, setBeginning] = useState(false);
  const own = (rolls.data ?? []).filter(({ roll }) => roll.body === body);
  const current = own.find(({ roll }) => roll.id === settings.roll);
  const next = current?.next;
  useEffect(() => {
    // What was logged moves the counter on.
    if (next !== undefined) onChange({ frame: next });
  }, [next, settings.roll, onChange]);
  const past = current?.roll.frames != null && (settings.frame ?? 0) >= current.roll.first_number + current.roll.frames;
  return (
    <div className="log-film">
      <Select
        aria-label="Roll"
        placeholder="Which roll?"
        allowClear
        value={settings.roll}
        options={own.map(({ roll }) => ({ value: roll.id, label: roll.stock ? `${roll.id}, ${roll.stock}` : roll.id }))}
        onChange={(roll: string | undefined) => onChange({ roll: roll ?? null, frame: null })}
      />
      {current && (
        <span className="log-counter">
          <Button aria-label="One frame back" onClick={() => onChange({ frame: (settings.frame ?? 1) - 1 })}>
            −
          </Button>
          <output aria-label="Next frame">{settings.frame ?? "?"}</output>
          <Button aria-label="One frame on" onClick={() => onChange({ frame: (settings.frame ?? 0) + 1 })}>
            +
          </Button>
        </span>
      )}
      {!beginning && <Button onClick={() => setBeginning(true)}>New roll</Button>}
      {past && <p className="log-hint">This is past the end of the roll.</p>}
      {beginning && (
        <NewRoll
          body={body}
          onKept={(page) => {
            setBeginning(false);
            onChange({ roll: page.roll.id, frame: page.next });
          }}
          onCancel={() => setBeginning(false)}
        />
      )}
    </div>
  );
}

interface NewProps {
  body: string;
  onKept: (page: RollPage) => void;
  onCancel: () => void;
}

function NewRoll({ body, onKept, onCancel }: NewProps) {
  const queries = useQueryClient();
  const [id, setId] = useState("");
  const [stock, setStock] = useState("");
  const [first, setFirst] = useState(1);
  const [frames, setFrames] = useState<number | null>(36);
  const keep = useMutation({
    mutationFn: async () =>
      unwrap(
        await client.PUT("/api/v1/log/rolls", {
          body: { roll: { id: id.trim(), body, stock, first_number: first, frames }, version: 0 },
        }),
      ),
    onSuccess: async (page) => {
      await queries.invalidateQueries({ predicate: about("log/rolls", "history") });
      onKept(page);
    },
  });
  return (
    <form
      className="log-new-roll"
      onSubmit={(event) => {
        event.preventDefault();
        keep.mutate();
      }}
    >
      <label className="log-field">
        <span>Name, as on the canister and on the folder of its scans</span>
        <Input value={id} maxLength={120} onChange={(event) => setId(event.target.value)} />
      </label>
      <label className="log-field">
        <span>Film</span>
        <Input value={stock} maxLength={120} onChange={(event) => setStock(event.target.value)} />
      </label>
      <div className="log-field">
        <span>First number</span>
        <InputNumber
          aria-label="First number"
          value={first}
          min={-1}
          max={99}
          precision={0}
          onChange={(value) => setFirst(value ?? 1)}
        />
      </div>
      <div className="log-field">
        <span>Frames, if that is known</span>
        <InputNumber aria-label="Frames" value={frames} min={0} max={999} precision={0} onChange={setFrames} />
      </div>
      {keep.error && <Refused error={keep.error} />}
      <p className="message-actions">
        <Button type="primary" htmlType="submit" disabled={id.trim() === ""} loading={keep.isPending}>
          Begin this roll
        </Button>
        <Button onClick={onCancel}>Cancel</Button>
      </p>
    </form>
  );
}
