import { useMutation, useQueryClient } from "@tanstack/react-query";
import Button from "antd/es/button";
import Input from "antd/es/input/Input";
import { useEffect, useRef, useState } from "react";

import { client, type Subject, unwrap } from "../../api/client";
import { startQuery } from "../../api/queries";
import { usePractices } from "../../app/Practices";
import { lengthMm } from "../../parts/lengths";

interface Row {
  name: string;
  distance: string;
}

const MOST = 8;
const rowsOf = (subjects: readonly Subject[]): Row[] =>
  subjects.map(({ name, distance_m: metres }) => ({ name, distance: `${metres} m` }));

/** A distance in metres, unless its unit says otherwise. */
function metresOf(text: string): number | null {
  const plain = Number(text.trim().replace(",", "."));
  const metres = text.trim() !== "" && !Number.isNaN(plain) ? plain : (lengthMm(text) ?? 0) / 1000;
  return metres >= 0.01 && metres <= 10_000 ? metres : null;
}

/** What one photographs, and from how far: the marks on the ribbon of distances. */
export function SubjectsEditor() {
  const { start } = usePractices();
  const queries = useQueryClient();
  const [rows, setRows] = useState(() => rowsOf(start.subjects));
  const unsaved = useRef<Subject[] | null>(null);
  // Who leaves while the last letters are on their way keeps them all the same.
  useEffect(() => {
    const leave = () => {
      if (unsaved.current) void client.PUT("/api/v1/subjects", { body: unsaved.current, keepalive: true });
    };
    window.addEventListener("pagehide", leave);
    return () => window.removeEventListener("pagehide", leave);
  }, []);
  const save = useMutation({
    // One after the other: the last that was written is the one that stands.
    scope: { id: "subjects" },
    mutationFn: async (subjects: Subject[]) => unwrap(await client.PUT("/api/v1/subjects", { body: subjects })),
    onSuccess: (subjects, sent) => {
      if (unsaved.current === sent) unsaved.current = null;
      queries.setQueryData(startQuery.queryKey, (before) => (before ? { ...before, subjects } : before));
      if (sent.length === 0) setRows(rowsOf(subjects));
    },
  });
  /** What is whole is kept; a line that is still being written waits. */
  const write = (next: Row[]) => {
    setRows(next);
    const whole = next.flatMap(({ name, distance }) => {
      const metres = metresOf(distance);
      return name.trim() && metres !== null ? [{ name: name.trim(), distance_m: metres }] : [];
    });
    if (whole.length === 0) return;
    unsaved.current = whole;
    save.mutate(whole);
  };
  const change = (at: number, part: Partial<Row>) =>
    write(rows.map((row, place) => (place === at ? { ...row, ...part } : row)));
  return (
    <fieldset className="choice subjects">
      <legend>Marks on the ribbon of distances</legend>
      {rows.map(({ name, distance }, at) => (
        <div key={at} className="subject-row">
          <Input
            value={name}
            maxLength={24}
            aria-label={`Subject ${at + 1}`}
            placeholder="what you photograph"
            onChange={(event) => change(at, { name: event.target.value })}
          />
          <Input
            value={distance}
            aria-label={`Distance of subject ${at + 1}`}
            placeholder="1.5 m"
            status={distance !== "" && metresOf(distance) === null ? "error" : ""}
            onChange={(event) => change(at, { distance: event.target.value })}
          />
          <Button
            aria-label={`Remove ${name || "this subject"}`}
            disabled={rows.length === 1}
            onClick={() => write(rows.filter((_, place) => place !== at))}
          >
            ×
          </Button>
        </div>
      ))}
      <Button
        size="small"
        disabled={rows.length >= MOST}
        onClick={() => setRows([...rows, { name: "", distance: "" }])}
      >
        Add one
      </Button>
      <Button size="small" type="link" onClick={() => save.mutate([])}>
        The usual ones
      </Button>
      {save.isError && <p role="alert">{save.error.message}</p>}
    </fieldset>
  );
}
