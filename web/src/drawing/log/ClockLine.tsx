import "./ClockLine.css";

import { useRef, useState } from "react";

import { at, type Scale, scaleOver, secondsOf, spanSaid, ticksOf } from "./clockScale";

export interface LineEntry {
  id: string;
  at_us: number;
  way: string;
  says: string;
}

export interface LinePicture {
  number: number;
  clock_us: number;
  entry: string | null;
  state: string;
  file: string;
}

interface Props {
  body: string;
  entries: readonly LineEntry[];
  pictures: readonly LinePicture[];
  /** Log minus camera, in seconds. */
  seconds: number;
  /** Of the entries, minus UTC: times are shown as the clock on the wall showed them. */
  zoneUs: number;
  zoom: number;
  chosen: number | null;
  onOffset: (seconds: number) => void;
  onChoose: (picture: number) => void;
}

const LEFT = 84;
const BASE = 1180;
const ENTRIES_Y = 40;
const PICTURES_Y = 128;
const HEIGHT = 172;

/** Entries above, pictures below, threads between; the lower line is moved until they agree. */
export function ClockLine({ body, entries, pictures, seconds, zoneUs, zoom, chosen, onOffset, onChoose }: Props) {
  const [dragged, setDragged] = useState(0);
  const from = useRef<number | null>(null);
  const width = BASE * zoom;
  const shift = (seconds + dragged) * 1e6;
  const logged = entries.map(({ at_us }) => at_us);
  const taken = pictures.map(({ clock_us }) => clock_us + seconds * 1e6);
  const apart = apartBy(logged, taken);
  // Where the clock shows another day, both lines begin together, and it is said.
  const moved = apart === 0 ? 0 : -apart;
  const scale = scaleOver([...logged, ...taken.map((one) => one + moved)], LEFT, width);
  if (!scale) return null;
  const x = (moment: number) => at(scale, moment);
  const places = new Map(entries.map((entry) => [entry.id, x(entry.at_us)]));
  const nudge = (event: React.KeyboardEvent) => {
    const by = event.key === "ArrowRight" ? 1 : event.key === "ArrowLeft" ? -1 : 0;
    if (by === 0) return;
    event.preventDefault();
    onOffset(round(seconds + by * (event.shiftKey ? 60 : 1)));
  };
  const move = (event: React.PointerEvent) => {
    if (from.current === null) return;
    const ratio = width / event.currentTarget.getBoundingClientRect().width;
    setDragged(secondsOf(scale, (event.clientX - from.current) * ratio));
  };
  const drop = () => {
    if (from.current === null) return;
    from.current = null;
    if (Math.abs(dragged) >= 0.5) onOffset(round(seconds + dragged));
    setDragged(0);
  };
  const paired = pictures.filter(({ entry }) => entry !== null).length;
  return (
    <div className="clock-line" data-body={body}>
      <svg
        viewBox={`0 0 ${width} ${HEIGHT}`}
        style={{ width: `${100 * zoom}%`, minWidth: zoom * 900 }}
        role="img"
        aria-label={`${entries.length} entries and ${pictures.length} pictures on one line of time; ${paired} pictures have an entry`}
        onPointerMove={move}
        onPointerUp={drop}
        onPointerCancel={drop}
      >
        <Ticks scale={scale} zoneUs={zoneUs} />
        {pictures.map((picture) => {
          const top = picture.entry === null ? undefined : places.get(picture.entry);
          return (
            top !== undefined && (
              <line
                key={picture.number}
                className={`clock-thread ${picture.state}`}
                x1={top}
                y1={ENTRIES_Y + 9}
                x2={x(picture.clock_us + shift + moved)}
                y2={PICTURES_Y - 9}
              />
            )
          );
        })}
        <Logged entries={entries} places={places} zoneUs={zoneUs} />
        <g
          className="clock-pictures"
          role="slider"
          tabIndex={0}
          aria-label="Clock of the camera: move its pictures"
          aria-valuenow={Math.round(seconds)}
          aria-valuetext={`${spanSaid(seconds)} ${seconds < 0 ? "earlier" : "later"}`}
          onKeyDown={nudge}
          onPointerDown={(event) => {
            if (apart !== 0) return;
            from.current = event.clientX;
            event.currentTarget.ownerSVGElement?.setPointerCapture(event.pointerId);
          }}
        >
          <rect x={LEFT} y={PICTURES_Y - 20} width={width - LEFT} height={44} />
          <text className="clock-name" x={0} y={PICTURES_Y + 4}>
            pictures
          </text>
          {pictures.map((picture) => (
            <rect
              key={picture.number}
              className={`clock-picture ${picture.state}`}
              aria-current={picture.number === chosen || undefined}
              x={x(picture.clock_us + shift + moved) - 3}
              y={PICTURES_Y - 8}
              width={6}
              height={16}
              onClick={() => onChoose(picture.number)}
            >
              <title>{picture.file}</title>
            </rect>
          ))}
        </g>
        {dragged !== 0 && (
          <text className="clock-dragged" x={width / 2} y={HEIGHT - 3} textAnchor="middle">
            {`${spanSaid(dragged)} ${dragged < 0 ? "earlier" : "later"}`}
          </text>
        )}
        {apart !== 0 && (
          <text className="clock-dragged" x={width / 2} y={HEIGHT - 3} textAnchor="middle">
            {`the pictures are ${spanSaid(apart / 1e6)} ${apart < 0 ? "earlier" : "later"} than the log: drawn below it all the same`}
          </text>
        )}
      </svg>
    </div>
  );
}

/** Full minutes or hours, as a clock on the wall shows them. */
function Ticks({ scale, zoneUs }: { scale: Scale; zoneUs: number }) {
  return ticksOf(scale, 76).map((tick) => (
    <g key={tick} className="clock-tick">
      <line x1={at(scale, tick)} x2={at(scale, tick)} y1={16} y2={HEIGHT - 16} />
      <text x={at(scale, tick) + 3} y={12}>
        {clockAt(tick + zoneUs)}
      </text>
    </g>
  ));
}

interface LoggedProps {
  entries: readonly LineEntry[];
  places: ReadonlyMap<string, number>;
  zoneUs: number;
}

/** The upper line. */
function Logged({ entries, places, zoneUs }: LoggedProps) {
  return (
    <>
      <text className="clock-name" x={0} y={ENTRIES_Y + 4}>
        log
      </text>
      {entries.map((entry) => (
        <line
          key={entry.id}
          className={`clock-entry way-${entry.way}`}
          x1={places.get(entry.id)}
          x2={places.get(entry.id)}
          y1={ENTRIES_Y - 9}
          y2={ENTRIES_Y + 9}
        >
          <title>{`${clockAt(entry.at_us + zoneUs)} ${entry.says}`}</title>
        </line>
      ))}
    </>
  );
}

const round = (seconds: number) => Math.round(seconds * 10) / 10;

/** How far the pictures lie from the log where they do not touch, else 0; microseconds. */
function apartBy(logged: readonly number[], taken: readonly number[]): number {
  if (logged.length === 0 || taken.length === 0) return 0;
  const [first, last] = [Math.min(...logged), Math.max(...logged)];
  const begins = Math.min(...taken);
  const day = 86_400e6;
  return begins > last + day || Math.max(...taken) < first - day ? begins - first : 0;
}

/** Microseconds of a wall clock as it shows them. */
const clockAt = (us: number) => new Date(us / 1000).toISOString().slice(11, 16);
