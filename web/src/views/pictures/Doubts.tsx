import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import Button from "antd/es/button";

import type { LogEntryRow, PictureRow, PicturesReport } from "../../api/logQueries";
import { useKeys } from "../../app/useKeys";
import { Plain } from "../../parts/Plain";
import { Refused } from "../../parts/Refused";
import { Thumbnail } from "./Thumbnail";
import { useSettling } from "./useSettling";

const NEAR = 5;
const clockOf = (at: string) => at.slice(11, 19);

/** What does not agree, one after another: settled by keys, each one step to take back. */
export function Doubts({ report }: { report: PicturesReport }) {
  const doubtful = useMemo(() => report.pictures.filter(({ state }) => state === "doubtful"), [report]);
  const entries = useMemo(() => new Map(report.entries.map((entry) => [entry.id, entry])), [report]);
  const [at, setAt] = useState(0);
  const settling = useSettling();
  const place = Math.min(at, Math.max(doubtful.length - 1, 0));
  const picture = doubtful[place];
  const others = useMemo(() => (picture ? nearest(picture, report.entries) : []), [picture, report]);
  const settle = useCallback(
    (pictures: readonly PictureRow[], entry: string | null) => {
      if (!settling.isPending) settling.mutate({ pictures, entry });
    },
    [settling],
  );
  // Of one reason and one entry, from here on.
  const series = picture ? doubtful.slice(place).filter((one) => alike(one, picture)) : [];
  useKeys(() => {
    if (!picture) return {};
    const keys: Record<string, () => void> = {
      ArrowDown: () => setAt(Math.min(place + 1, doubtful.length - 1)),
      ArrowUp: () => setAt(Math.max(place - 1, 0)),
      Enter: () => settle([picture], picture.entry),
      x: () => settle([picture], null),
      a: () => settle(series, picture.entry),
    };
    others.forEach((entry, number) => {
      keys[String(number + 1)] = () => settle([picture], entry.id);
    });
    return keys;
  });
  const list = useRef<HTMLOListElement>(null);
  useEffect(() => {
    // Within the list alone: the page stays where it is.
    const shown = list.current?.querySelector<HTMLElement>("[aria-current]");
    if (shown && list.current) list.current.scrollTop = shown.offsetTop - list.current.offsetTop - 60;
  }, [place]);
  if (report.pictures.length === 0) return null;
  if (!picture)
    return (
      <section>
        <h2>Doubts</h2>
        <p>Nothing is doubtful.</p>
      </section>
    );
  return (
    <section data-state="doubts">
      <h2>{`${doubtful.length} ${doubtful.length === 1 ? "doubt" : "doubts"}`}</h2>
      <div className="doubt-shown">
        <Thumbnail picture={picture} />
        <div>
          <p className="doubt-file">{`${picture.files.join(", ")}${picture.at ? `, ${clockOf(picture.taken_at ?? "")} by its camera` : ""}`}</p>
          <ul className="bulleted">
            {picture.why.map((why) => (
              <li key={why}>{why}</li>
            ))}
          </ul>
          <p className="doubt-answers">
            <Button type="primary" onClick={() => settle([picture], picture.entry)}>
              {`Enter: ${told(entries.get(picture.entry ?? ""))}`}
            </Button>
            {others.map((entry, number) => (
              <Button key={entry.id} onClick={() => settle([picture], entry.id)}>
                {`${number + 1}: ${told(entry)}`}
              </Button>
            ))}
            <Button onClick={() => settle([picture], null)}>X: none of them</Button>
            {series.length > 1 && (
              <Button onClick={() => settle(series, picture.entry)}>{`A: so for all ${series.length}`}</Button>
            )}
          </p>
          {settling.error && <Refused error={settling.error} />}
        </div>
      </div>
      <ol ref={list} className="doubts" aria-label="Doubts">
        {doubtful.map((one, number) => (
          <li key={one.number}>
            <Plain className="doubt" aria-current={number === place || undefined} onClick={() => setAt(number)}>
              <span>{one.files[0]}</span>
              <span className="route-gives">{one.why[0]}</span>
            </Plain>
          </li>
        ))}
      </ol>
    </section>
  );
}

const alike = (one: PictureRow, other: PictureRow) =>
  one.body === other.body && one.entry === other.entry && one.doubts.join() === other.doubts.join();

const told = (entry: LogEntryRow | undefined) =>
  entry ? `${clockOf(entry.at)} ${[entry.rig, entry.says].filter(Boolean).join(", ")}` : "none";

/** The other entries of its body that are nearest in time. */
function nearest(picture: PictureRow, entries: readonly LogEntryRow[]): LogEntryRow[] {
  const at = picture.at ? Date.parse(picture.at) * 1000 : null;
  return entries
    .filter(({ id, body }) => id !== picture.entry && body === picture.body)
    .sort((one, other) => (at === null ? 0 : Math.abs(one.at_us - at) - Math.abs(other.at_us - at)))
    .slice(0, NEAR);
}
