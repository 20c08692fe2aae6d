import "./PaneDrawing.css";

import type { Kind } from "../../api/queries";
import { mm } from "../../parts/format";
import type { Fields } from "../../parts/fields";
import { Silhouette } from "./Silhouette";
import { word } from "../../parts/words";

const WIDTH = 520;
const HEIGHT = 126;

const number = (value: unknown) => (typeof value === "number" && Number.isFinite(value) && value > 0 ? value : null);
const pair = (value: unknown): [number | null, number | null] =>
  Array.isArray(value) ? [number((value as unknown[])[0]), number((value as unknown[])[1])] : [null, null];

const DRAWN = ["lenses", "bodies", "adapters", "mounts"] as const;
const isDrawn = (kind: Kind): kind is (typeof DRAWN)[number] => DRAWN.some((one) => one === kind);

/**
 * The item as it is written just now (`nominal`: the register of its mount), to scale, with its measures;
 * drawn again with every keystroke.
 */
export function PaneDrawing({ kind, item, nominal }: { kind: Kind; item: Fields; nominal: number | null }) {
  if (!isDrawn(kind)) return null;
  const [cx, cy] = pair(item.mount_centre_mm);
  const [sw, sh] = pair(item.sensor_mm);
  const measured = number(kind === "adapters" ? item.measured_length_mm : item.measured_register_mm);
  const measures = {
    lenses: [number(item.length_mm), number(item.diameter_mm), number(item.rear_diameter_mm)],
    bodies: [number(item.width_mm), number(item.height_mm), null],
    adapters: [measured ?? number(item.length_mm), number(item.outer_mm), number(item.bore_mm)],
    mounts: [number(item.register_mm), number(item.outer_mm), number(item.throat_mm)],
  } as const;
  const [width_mm, height_mm, inner_mm] = measures[kind];
  const row = {
    width_mm,
    height_mm,
    inner_mm,
    centre_x_mm: cx,
    centre_y_mm: cy,
    covers: sw !== null && sh !== null ? `${sw} × ${sh}` : null,
    glass: typeof item.optics === "string" && item.optics !== "none",
  };
  const scale = Math.min(
    1.5,
    (HEIGHT - 30) / (height_mm ?? 66),
    170 / ((width_mm ?? 60) + (kind === "mounts" ? (height_mm ?? 62) : 0)),
  );
  const lines = said(kind, item, measured, nominal);
  return (
    <svg
      className="pane-drawing"
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      role="img"
      aria-label={lines.map(([what, value]) => `${what} ${value}`).join(", ") || "No measure is known yet"}
      data-scale={scale}
    >
      <g className={(number(item.owned) ?? number(item.borrowed) ?? kind === "mounts") ? "" : "not-owned"}>
        <Silhouette row={row} kind={kind} scale={scale} width={196} height={HEIGHT - 22} />
      </g>
      {width_mm !== null && kind !== "mounts" && (
        <g>
          <path
            className="dim"
            d={`M${(kind === "bodies" ? 192 : 186) - Math.min(width_mm * scale, 180)} ${HEIGHT - 14}H${kind === "bodies" ? 192 : 186}m0 -4v8m${-Math.min(width_mm * scale, 180)} 0v-8`}
          />
          <text x="190" y={HEIGHT - 1} textAnchor="end">{`${mm(width_mm, kind === "adapters" ? 2 : 1)} mm`}</text>
        </g>
      )}
      {lines.slice(0, 6).map(([what, value], index) => (
        <g key={what} transform={`translate(244 ${20 + index * 19})`}>
          <text className="second">{what}</text>
          <text x="270" textAnchor="end">
            {value}
          </text>
        </g>
      ))}
    </svg>
  );
}

/** What is written, in a few lines; measured and nominal beside each other. */
function said(
  kind: Kind,
  item: Fields,
  measured: number | null,
  nominal: number | null,
): [what: string, value: string][] {
  const lines: [string, string][] = [];
  const add = (what: string, value: number | null, unit = "mm", digits = 1) => {
    if (value !== null) lines.push([what, `${mm(value, digits)} ${unit}`]);
  };
  const noted = (what: string) => {
    if (measured === null) return;
    const tolerance = number(item.measured_tolerance_mm);
    lines.push([what, `${mm(measured)}${tolerance ? ` ± ${mm(tolerance)}` : ""} mm`]);
    if (typeof item.measured_on === "string") lines.push(["measured on", item.measured_on]);
  };
  if (kind === "adapters") {
    add("nominal length", number(item.length_mm), "mm", 2);
    noted("as measured");
    add("bore", number(item.bore_mm));
    add("outer", number(item.outer_mm));
  } else if (kind === "mounts") {
    add(word("flange_focal_distance"), number(item.register_mm), "mm", 2);
    add("throat", number(item.throat_mm));
    add("flange", number(item.outer_mm));
  } else {
    if (measured !== null) add(`nominal ${word("flange_focal_distance")}`, nominal, "mm", 2);
    noted("as measured");
    if (kind === "lenses") {
      add("length", number(item.length_mm));
      add("diameter", number(item.diameter_mm));
      add("image circle", number(item.image_circle_mm));
    } else {
      const [w, h] = pair(item.sensor_mm);
      if (w !== null && h !== null) lines.push(["sensor", `${w} × ${h} mm`]);
      add("width", number(item.width_mm));
      add("height", number(item.height_mm));
    }
    add("weight", number(item.mass_g), "g", 0);
  }
  return lines;
}
