import "./SessionStrip.css";

import type { EntryLine } from "../../api/logQueries";

interface Props {
  entries: readonly EntryLine[];
}

const WIDTH = 600;
const LANE = 22;
const LEFT = 108;
const HOUR = 3_600_000;

/** The last hours of shooting, a lane for each body: taps as ticks, a series as a bar from or up to its entry. */
export function SessionStrip({ entries }: Props) {
  const counted = entries.filter(({ entry }) => entry.struck === null && entry.roll === null);
  const latest = Math.max(...counted.map(({ entry }) => Date.parse(entry.at)));
  const shown = counted.filter(({ entry }) => latest - Date.parse(entry.at) < 6 * HOUR);
  const bodies = [...new Map(shown.map(({ entry, body_name }) => [entry.body, body_name]))].slice(0, 3);
  const times = shown.map(({ entry }) => Date.parse(entry.at));
  const first = Math.min(...times);
  if (shown.length < 2) return null;
  const span = Math.max(latest - first, 60_000);
  const x = (at: number) => LEFT + ((at - first) / span) * (WIDTH - LEFT - 12);
  const height = bodies.length * LANE + 20;
  const minutes = Math.round(span / 60_000);
  return (
    <svg
      className="session-strip"
      viewBox={`0 0 ${WIDTH} ${height}`}
      role="img"
      aria-label={`${shown.length} entries in ${minutes} minutes: ${bodies.map(([, name]) => name).join(", ")}`}
    >
      {bodies.map(([body, name], lane) => {
        const own = shown.filter(({ entry }) => entry.body === body);
        const y = lane * LANE + 12;
        return (
          <g key={body}>
            <text className="session-name" x={0} y={y + 4}>
              {name}
            </text>
            <line className="session-line" x1={LEFT} x2={WIDTH - 8} y1={y} y2={y} />
            {own.map(({ entry }, at) => {
              const here = x(Date.parse(entry.at));
              // The list runs from the latest to the earliest.
              const later = own[at - 1]?.entry;
              const earlier = own[at + 1]?.entry;
              const other = entry.way === "before" ? later : earlier;
              const end = other ? x(Date.parse(other.at)) : entry.way === "before" ? WIDTH - 8 : LEFT;
              return entry.way === "tap" ? (
                <line key={entry.id} className="session-tap" x1={here} x2={here} y1={y - 7} y2={y + 7} />
              ) : (
                <g key={entry.id} className="session-series">
                  <line x1={here} x2={end} y1={y} y2={y} />
                  <line x1={here} x2={here} y1={y - 7} y2={y + 7} />
                </g>
              );
            })}
          </g>
        );
      })}
      <text className="session-time" x={LEFT} y={height - 3}>
        {clockOf(shown.at(-1))}
      </text>
      <text className="session-time" x={WIDTH - 8} y={height - 3} textAnchor="end">
        {clockOf(shown[0])}
      </text>
    </svg>
  );
}

/** The time of an entry as the clock on the wall showed it there. */
const clockOf = (line: EntryLine | undefined) => line?.entry.at.slice(11, 16) ?? "";
