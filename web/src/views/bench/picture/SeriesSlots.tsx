import { useMutation } from "@tanstack/react-query";
import Input from "antd/es/input/Input";

import { type DeskPicture, sendPicture } from "../../../api/measuredQueries";
import { FileChooser } from "../../../parts/FileChooser";
import { Plain } from "../../../parts/Plain";
import { Refused } from "../../../parts/Refused";

export interface SeriesLine {
  picture: DeskPicture;
  ring: string;
  stop: string;
}

interface Props {
  lines: readonly SeriesLine[];
  onLines: (lines: SeriesLine[]) => void;
}

/** The frames of a series: how far out the ring stood in each, and the stop. */
export function SeriesSlots({ lines, onLines }: Props) {
  const send = useMutation({
    mutationFn: (file: File) => sendPicture(file),
    onSuccess: (picture) => onLines([...lines, { picture, ring: "", stop: lines.at(-1)?.stop ?? "" }]),
  });
  const set = (index: number, next: Partial<SeriesLine>) =>
    onLines(lines.map((line, place) => (place === index ? { ...line, ...next } : line)));
  return (
    <div className="measured-series">
      <ol>
        {lines.map((line, index) => (
          <li key={line.picture.id}>
            <span>{line.picture.name}</span>
            <label className="bench-field">
              <span>ring out by, mm</span>
              <Input
                inputMode="decimal"
                value={line.ring}
                onChange={(event) => set(index, { ring: event.target.value })}
              />
            </label>
            <label className="bench-field">
              <span>stop, f/</span>
              <Input
                inputMode="decimal"
                value={line.stop}
                onChange={(event) => set(index, { stop: event.target.value })}
              />
            </label>
            <Plain className="unfold" onClick={() => onLines(lines.filter((_, place) => place !== index))}>
              leave out
            </Plain>
          </li>
        ))}
      </ol>
      <FileChooser
        says="Add a frame"
        label="A frame of the series"
        accept="*/*"
        busy={send.isPending}
        onFile={(file) => send.mutate(file)}
      />
      {send.error && <Refused error={send.error} />}
    </div>
  );
}
