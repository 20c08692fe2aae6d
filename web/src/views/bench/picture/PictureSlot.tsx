import { useMutation, useQuery } from "@tanstack/react-query";
import Button from "antd/es/button";
import { useState } from "react";

import { picturesQuery, sourcesQuery } from "../../../api/logQueries";
import { type DeskPicture, loggedPicture, samplePicture, sendPicture } from "../../../api/measuredQueries";
import { FileChooser } from "../../../parts/FileChooser";
import { Plain } from "../../../parts/Plain";
import { Refused } from "../../../parts/Refused";

/** What the log knows of a picture that lies in one of its folders. */
export interface Logged {
  lens: string;
  body: string;
  via: string;
  aperture: number | null;
  distance_m: number | null;
  focal_length_mm: number | null;
}

interface Props {
  label: string;
  picture: DeskPicture | null;
  sample?: "chart" | "lit";
  /** It can do without. */
  optional?: boolean;
  onPicture: (picture: DeskPicture, logged: Logged | null) => void;
}

/** One picture that is needed: sent from here, or taken from the log's folders. */
export function PictureSlot({ label, picture, sample, optional = false, onPicture }: Props) {
  const [open, setOpen] = useState(false);
  const send = useMutation({
    mutationFn: (file: File) => sendPicture(file),
    onSuccess: (laid) => onPicture(laid, null),
  });
  const draw = useMutation({
    mutationFn: (kind: "chart" | "lit") => samplePicture(kind),
    onSuccess: (laid) => onPicture(laid, null),
  });
  return (
    <div
      className="measured-slot"
      data-slot={picture ? "laid" : "empty"}
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event) => {
        event.preventDefault();
        const file = event.dataTransfer.files[0];
        if (file) send.mutate(file);
      }}
    >
      <span className="measured-slot-name">{label}</span>
      <FileChooser
        says={picture ? picture.name : "Choose or drop a picture"}
        label={label}
        accept="*/*"
        busy={send.isPending}
        primary={picture === null && !optional}
        onFile={(file) => send.mutate(file)}
      />
      <Plain className="unfold" aria-expanded={open} onClick={() => setOpen(!open)}>
        from the log
      </Plain>
      {sample && (
        <Plain className="unfold" onClick={() => draw.mutate(sample)} data-action="sample">
          try it with a drawn one
        </Plain>
      )}
      {send.error && <Refused error={send.error} />}
      {draw.error && <Refused error={draw.error} />}
      {open && (
        <FromLog
          onPicture={(laid, logged) => {
            setOpen(false);
            onPicture(laid, logged);
          }}
        />
      )}
    </div>
  );
}

function FromLog({ onPicture }: Pick<Props, "onPicture">) {
  const sources = useQuery(sourcesQuery);
  const [folder, setFolder] = useState<number | null>(null);
  const shown = folder ?? sources.data?.find((one) => !one.dropped)?.number ?? null;
  const pictures = useQuery({ ...picturesQuery(shown ?? 1, {}), enabled: shown !== null });
  const lay = useMutation({
    mutationFn: (number: number) => loggedPicture(number),
    onSuccess: (laid, number) => {
      const row = pictures.data?.pictures.find((one) => one.number === number);
      const entry = pictures.data?.entries.find((one) => one.id === row?.entry);
      onPicture(
        laid,
        entry
          ? {
              lens: entry.lens,
              body: entry.body,
              via: entry.via.join(","),
              aperture: entry.aperture,
              distance_m: entry.distance_m,
              focal_length_mm: entry.focal_length_mm,
            }
          : null,
      );
    },
  });
  const failed = sources.error ?? pictures.error ?? lay.error;
  return (
    <div className="measured-log">
      {failed && <Refused error={failed} />}
      {sources.data?.length === 0 && <p>No folder of pictures was named when it was started.</p>}
      <div className="toggles" role="group" aria-label="Folders">
        {sources.data
          ?.filter((one) => !one.dropped)
          .map((one) => (
            <Plain
              key={one.number}
              className="filter-toggle"
              aria-pressed={one.number === shown}
              onClick={() => setFolder(one.number)}
            >
              {one.name}
            </Plain>
          ))}
      </div>
      {pictures.data?.pictures.length === 0 && <p>Nothing has been read of it yet: read it under Log, Pictures.</p>}
      <ul className="measured-log-list" aria-busy={pictures.isFetching}>
        {pictures.data?.pictures.slice(0, 200).map((one) => (
          <li key={one.number}>
            <Button size="small" loading={lay.isPending} onClick={() => lay.mutate(one.number)}>
              {one.files[0]}
            </Button>
          </li>
        ))}
      </ul>
    </div>
  );
}
