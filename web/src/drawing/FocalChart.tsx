import "./FocalChart.css";

import type { LensSet } from "../api/client";
import { aperture } from "../parts/format";
import { Axis } from "./Axis";
import { focalTicks, ratioScale, stopTicks } from "./axes";
import { Hatch } from "./Hatch";
import { MOST_NUMBERS, type Numbered } from "./views";

const WIDTH = 480;
const HEIGHT = 320;
const LEFT = 44;
const BOTTOM = 44;
const TOP = 30;
const RIGHT = 12;
/** How wide a mark with its number is. */
const SIZE = 17;

interface Props {
  rows: readonly Numbered[];
  chosen: string | null;
  onChoose: (key: string) => void;
  gaps: LensSet["gaps"];
  /** With the aperture of equal depth, or the one that exposes. */
  depth: boolean;
  reference: string;
}

/** Where marks stand so that none covers another: moved up or down from their own place. */
function apart(marks: readonly ({ key: string; x: number; y: number } | null)[], size: number) {
  const found: { key: string; x: number; y: number }[] = [];
  const free = (x: number, y: number) =>
    y > TOP && y < HEIGHT - BOTTOM && found.every((one) => Math.abs(one.x - x) >= size || Math.abs(one.y - y) >= size);
  for (const mark of marks) {
    if (!mark) continue;
    const steps = Array.from({ length: 24 }, (_, step) => (step % 2 ? -1 : 1) * Math.ceil(step / 2) * size);
    const moved = size === 0 ? 0 : (steps.find((step) => free(mark.x, mark.y + step)) ?? 0);
    found.push({ ...mark, y: mark.y + moved });
  }
  return new Map(found.map(({ key, y }) => [key, y]));
}

/** Equivalent focal length against aperture: a mark a prime, a line a zoom; hatched where nothing is. */
export function FocalChart({ rows, chosen, onChoose, gaps, depth, reference }: Props) {
  const shown = rows.filter(({ row }) => row.settings[0]?.angles_deg);
  const stopOf = (setting: { f_number: number; equivalent_f_number: number }) =>
    depth ? setting.equivalent_f_number : setting.f_number;
  const all = shown.flatMap(({ row }) => row.settings);
  const here = shown.find(({ row }) => row.key === chosen);
  const marked = here?.row.settings[0];
  if (all.length === 0) return null;
  const lengths = [...all.map((one) => one.equivalent_mm), ...(marked ? [marked.marked_mm] : [])];
  const stops = [...all.map(stopOf), ...(marked ? [marked.marked_f_number] : [])];
  const x = ratioScale(lengths, [LEFT, WIDTH - RIGHT]);
  // The fast lens stands above.
  const y = ratioScale(stops, [TOP, HEIGHT - BOTTOM], 1.25);
  const many = shown.length > MOST_NUMBERS;
  const placed = apart(
    shown.map(({ row }) => {
      const [short] = row.settings;
      return short ? { key: row.key, x: x(short.equivalent_mm), y: y(stopOf(short)) } : null;
    }),
    many ? 0 : SIZE,
  );
  const ordered = [...shown].sort((one, other) => Number(one.row.key === chosen) - Number(other.row.key === chosen));
  return (
    <figure className="focal-chart">
      <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} role="img" aria-label="Focal length against aperture">
        <Hatch id="gap-hatch" />
        {gaps.map(({ from_mm: from, to_mm: to }) => (
          <g key={from} className="focal-gap" data-gap={`${from.toFixed(0)}-${to.toFixed(0)}`}>
            <rect x={x(from)} y={TOP} width={x(to) - x(from)} height={HEIGHT - BOTTOM - TOP} />
            <title>{`nothing between ${from.toFixed(0)} and ${to.toFixed(0)} mm`}</title>
          </g>
        ))}
        <Axis
          scale={x}
          ticks={focalTicks(x)}
          place="below"
          at={HEIGHT - BOTTOM}
          across={HEIGHT - BOTTOM - TOP}
          write={String}
          label={`mm, as on ${reference}`}
        />
        <Axis
          scale={y}
          ticks={stopTicks(y)}
          place="left"
          at={LEFT}
          across={WIDTH - RIGHT - LEFT}
          write={String}
          label={depth ? "f/, as deep as" : "effective f/"}
        />
        {marked && (
          <path
            className="focal-was"
            d={`M${x(marked.marked_mm)} ${y(marked.marked_f_number)}L${x(marked.equivalent_mm)} ${y(stopOf(marked))}`}
          />
        )}
        {marked && (
          <circle className="focal-marked" cx={x(marked.marked_mm)} cy={y(marked.marked_f_number)} r="4">
            <title>{`as engraved, ${marked.marked_mm} mm ${aperture(marked.marked_f_number)}`}</title>
          </circle>
        )}
        {ordered.map(({ row, number }) => {
          const [short] = row.settings;
          const long = row.settings.at(-1);
          if (!short || !long) return null;
          const [at, to] = [x(short.equivalent_mm), x(long.equivalent_mm)];
          const [up, down] = [y(stopOf(short)), y(stopOf(long))];
          const stands = placed.get(row.key) ?? up;
          const names = ["focal-mark"];
          if (row.key === chosen) names.push("chosen");
          if (row.covered === false || !row.works) names.push("hollow");
          return (
            <g key={row.key} className={names.join(" ")} data-mark={row.key} onClick={() => onChoose(row.key)}>
              {at !== to && <path d={`M${at} ${up}L${to} ${down}`} />}
              {Math.abs(stands - up) > 1 && <path className="focal-lead" d={`M${at} ${up}V${stands}`} />}
              {row.magnification === 1 ? (
                <circle cx={at} cy={stands} r={many ? 3 : SIZE / 2} />
              ) : (
                <rect x={at - SIZE / 2} y={stands - SIZE / 2} width={SIZE} height={SIZE} />
              )}
              {!many && (
                <text x={at} y={stands + 4} textAnchor="middle">
                  {number}
                </text>
              )}
            </g>
          );
        })}
      </svg>
      <figcaption>
        Round: without glass. Square: through a reducer or other glass. A line: a zoom. Dashed outline: corners dark, or
        it does not work.
      </figcaption>
    </figure>
  );
}
