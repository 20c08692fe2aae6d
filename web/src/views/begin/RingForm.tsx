import { useState } from "react";

import { lengthMm } from "../../parts/lengths";
import { Asked } from "./Asked";
import { Saved } from "./BodyForm";
import { useSaving } from "./useSaving";

interface Props {
  /** The room between the two, as text; "" where there is none. */
  room: string;
  save: (length: number | null) => Promise<void>;
}

/** A ring that joins them: as long as the room, unless one has measured it. */
export function RingForm({ room, save }: Props) {
  const [length, setLength] = useState(room);
  const { wrong, busy, submit } = useSaving();
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        const found = lengthMm(length);
        const missing: Record<string, string> =
          found === null || found > 500 ? { length_mm: "How long is it, face to face: “25.8”, “1.02 in”." } : {};
        // What was not touched is not measured.
        void submit(missing, () => save(length === room ? null : found));
      }}
    >
      <Asked
        label="I have a ring that joins them, this long"
        value={length}
        onChange={setLength}
        placeholder="mm, face to face"
        decimal
        wrong={wrong.length_mm}
        hint={room !== "" && length === room ? "the room between the two; measure yours to be sure" : ""}
      />
      <Saved busy={busy} wrong={wrong[""]} says="Add this ring" />
    </form>
  );
}
