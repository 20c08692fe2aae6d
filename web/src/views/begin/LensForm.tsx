import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";

import type { components } from "../../api/schema";
import { lensReadQuery } from "../../api/queries";
import { Asked } from "./Asked";
import { Saved } from "./BodyForm";
import { givenOf, type KnownMount, missingOf, MountAsked, NO_MOUNT } from "./MountAsked";
import { useSaving } from "./useSaving";

interface Props {
  known: readonly KnownMount[];
  save: (lens: components["schemas"]["NewLens"]) => Promise<void>;
}

/** A lens: what is engraved on it, and its mount. */
export function LensForm({ known, save }: Props) {
  const [engraved, setEngraved] = useState("");
  const [mount, setMount] = useState(NO_MOUNT);
  const { wrong, busy, submit } = useSaving();
  const text = engraved.trim();
  const read = useQuery({
    ...lensReadQuery(text),
    enabled: text !== "",
    placeholderData: keepPreviousData,
  });
  const said = text === "" ? undefined : read.data;
  const unread = text === "" || said?.focal_mm === null;
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        const missing = {
          ...(unread ? { engraved: "No focal length in it. As engraved: “1:2.2/55”, “28-80 mm 1:3.5-4.5”." } : {}),
          ...missingOf(known, mount),
        };
        void submit(missing, () => save({ engraved: text, ...givenOf(mount) }));
      }}
    >
      <Asked
        label="What is engraved on it"
        value={engraved}
        onChange={setEngraved}
        placeholder="1:2.2/55"
        wrong={wrong.engraved}
        hint={said?.focal_mm != null && `read as ${readAs(said)}`}
        first
      />
      <MountAsked known={known} value={mount} onChange={setMount} wrong={wrong} of="lens" />
      <Saved busy={busy} wrong={wrong[""]} says="Next: what joins them" />
    </form>
  );
}

function readAs(said: components["schemas"]["LensRead"]): string {
  const { focal_mm: focal, focal_long_mm: long, f_number: stop, f_number_at_long_end: slow } = said;
  const ends = long === null ? `${focal} mm` : `${focal} to ${long} mm`;
  if (stop === null) return `${ends}, widest aperture assumed`;
  return slow === null ? `${ends}, f/${stop}` : `${ends}, f/${stop} to f/${slow}`;
}
