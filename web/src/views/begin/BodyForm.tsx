import Input from "antd/es/input/Input";
import Button from "antd/es/button";
import { useState } from "react";

import type { components } from "../../api/schema";
import { Choices } from "../../parts/Choices";
import { lengthMm } from "../../parts/lengths";
import { Asked } from "./Asked";
import { givenOf, type KnownMount, missingOf, MountAsked, NO_MOUNT } from "./MountAsked";
import { useSaving } from "./useSaving";
import { Plain } from "../../parts/Plain";

const FULL_FRAME = "36 × 24";
const FORMATS = [FULL_FRAME, "24 × 16", "18 × 13.5", "44 × 33"];

/** "36 x 24" as two lengths, the longer first. */
function formatOf(text: string): [number, number] | null {
  const parts = text.split(/[x×*]/i).map((part) => lengthMm(part));
  const [one, other] = parts;
  if (parts.length !== 2 || !one || !other) return null;
  return [Math.max(one, other), Math.min(one, other)];
}

interface Props {
  known: readonly KnownMount[];
  next: string;
  save: (body: components["schemas"]["NewBody"]) => Promise<void>;
}

/** A body: what it is called, its mount, how large its sensor is. */
export function BodyForm({ known, next, save }: Props) {
  const [name, setName] = useState("");
  const [mount, setMount] = useState(NO_MOUNT);
  const [format, setFormat] = useState("");
  const { wrong, busy, submit } = useSaving();
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        const sensor = formatOf(format);
        const missing = {
          ...(name.trim() ? {} : { name: "What is it called? As it says on the front." }),
          ...missingOf(known, mount),
          ...(sensor ? {} : { sensor_mm: "How large is the picture: choose one, or “23.5 × 15.6”." }),
        };
        void submit(missing, () => save({ name: name.trim(), ...givenOf(mount), sensor_mm: sensor ?? [36, 24] }));
      }}
    >
      <Asked
        label="Its name"
        value={name}
        onChange={setName}
        placeholder="as it says on the front"
        wrong={wrong.name}
        first
      />
      <MountAsked known={known} value={mount} onChange={setMount} wrong={wrong} of="body" />
      <div className="asked">
        <span id="begin-format">Sensor or film gate, mm</span>
        <Choices numbers labelledBy="begin-format">
          {FORMATS.map((one) => (
            <Plain key={one} data-format={one} aria-pressed={format === one} onClick={() => setFormat(one)}>
              {one === FULL_FRAME ? `${one}, full frame` : one}
            </Plain>
          ))}
          <Input
            aria-label="Another size, mm"
            placeholder="other"
            value={FORMATS.includes(format) ? "" : format}
            onChange={(event) => setFormat(event.target.value)}
          />
        </Choices>
        {wrong.sensor_mm && (
          <span className="asked-wrong" role="alert">
            {wrong.sensor_mm}
          </span>
        )}
      </div>
      <Saved busy={busy} wrong={wrong[""]} says={next} />
    </form>
  );
}

export function Saved({ busy, wrong, says }: { busy: boolean; wrong: string | undefined; says: string }) {
  return (
    <p className="message-actions">
      <Button type="primary" htmlType="submit" loading={busy} size="large">
        {says}
      </Button>
      {wrong && (
        <span className="asked-wrong" role="alert">
          {wrong}
        </span>
      )}
    </p>
  );
}
