import "./Silhouette.css";

import type { ShelfRow } from "../../api/client";
import type { ShelfKind } from "../../api/queries";

interface Props {
  row: Pick<ShelfRow, "width_mm" | "height_mm" | "inner_mm" | "centre_x_mm" | "centre_y_mm" | "glass" | "covers">;
  kind: ShelfKind;
  /** Pixels per millimetre: one for a whole shelf. */
  scale: number;
  width: number;
  height: number;
}

/**
 * An item from its own measures, to scale; dashed where a measure is unknown. Seats of lenses and adapters
 * align.
 */
export function Silhouette({ row, kind, scale, width, height }: Props) {
  return (
    <svg className="silhouette" width={width} height={height} viewBox={`0 0 ${width} ${height}`} aria-hidden="true">
      {kind === "bodies" ? (
        <BodyFront row={row} scale={scale} width={width} height={height} />
      ) : kind === "mounts" ? (
        <Ring row={row} scale={scale} width={width} height={height} />
      ) : kind === "adapters" ? (
        <AdapterSide row={row} scale={scale} width={width} height={height} />
      ) : kind === "lenses" ? (
        <LensSide row={row} scale={scale} width={width} height={height} />
      ) : (
        <path className="sil-line" d={`M${width / 2 - 22} ${height / 2}h16m12 0h16`} />
      )}
    </svg>
  );
}

type Part = Omit<Props, "kind">;

function LensSide({ row, scale, width, height }: Part) {
  const known = row.width_mm !== null && row.height_mm !== null;
  const seat = width - 10;
  const whole = (row.width_mm ?? 50) * scale;
  const room = seat - 6;
  const broken = whole > room;
  const length = Math.min(whole, room);
  const half = (Math.min(row.height_mm ?? 60, (height - 4) / scale) * scale) / 2;
  const axis = height / 2;
  const throat = Math.min(half, ((row.inner_mm ?? 36) * scale) / 2 + 2);
  const front = seat - length;
  const neck = Math.min(length * 0.24, 12);
  return (
    <g className={known ? "" : "unknown"}>
      <path
        className="sil-metal"
        d={`M${front} ${axis - half}H${seat - neck * 1.6}L${seat - neck} ${axis - Math.max(throat, half * 0.86)}H${seat}V${axis + Math.max(throat, half * 0.86)}H${seat - neck}L${seat - neck * 1.6} ${axis + half}H${front}Z`}
      />
      <path
        className="sil-line"
        d={`M${front + Math.min(7, length * 0.16)} ${axis - half}v${half * 2}M${seat - neck * 2.3} ${axis - half}v${half * 2}`}
      />
      <path
        className="sil-glass"
        d={`M${front} ${axis - half * 0.78}q${-Math.min(6, half * 0.2)} ${half * 0.78} 0 ${half * 1.56}`}
      />
      <rect className="sil-metal" x={seat} y={axis - throat} width="3.5" height={throat * 2} />
      {broken && (
        <path
          className="sil-break"
          d={`M${front + length * 0.45} ${axis - half - 2}l4 ${half * 0.7}l-7 ${half * 0.6}l4 ${half * 0.7 + 4}m6 0l-4 ${-half * 0.7 - 4}l7 ${-half * 0.6}l-4 ${-half * 0.7}`}
        />
      )}
    </g>
  );
}

function AdapterSide({ row, scale, width, height }: Part) {
  const seat = width - 10;
  const axis = height / 2;
  const length = Math.max(1.2, (row.width_mm ?? 20) * scale);
  const half = ((row.height_mm ?? 60) * scale) / 2;
  const bore = Math.min(half * 0.96, ((row.inner_mm ?? 42) * scale) / 2);
  const known = row.height_mm !== null && row.inner_mm !== null;
  return (
    <g className={known ? "" : "unknown"}>
      {[-1, 1].map((side) => (
        <rect
          key={side}
          className="sil-metal"
          x={seat - length}
          width={length}
          y={side < 0 ? axis - half : axis + bore}
          height={half - bore}
        />
      ))}
      <path
        className="sil-line"
        d={`M${seat} ${axis - half - 3}V${axis + half + 3}M${seat - length} ${axis - half - 3}V${axis + half + 3}`}
      />
      {row.glass && (
        <ellipse
          className="sil-glass filled"
          cx={seat - length / 2}
          cy={axis}
          rx={Math.max(2, 3.4 * scale)}
          ry={bore * 0.88}
        />
      )}
    </g>
  );
}

function BodyFront({ row, scale, width, height }: Part) {
  const known = row.width_mm !== null && row.height_mm !== null;
  const [w, h] = [(row.width_mm ?? 130) * scale, (row.height_mm ?? 90) * scale];
  const [x, y] = [width - 4 - w, height - 3 - h];
  const [cx, cy] = [
    x + (row.centre_x_mm === null ? w * 0.52 : row.centre_x_mm * scale),
    y + (row.centre_y_mm === null ? h * 0.52 : row.centre_y_mm * scale),
  ];
  const throat = ((row.inner_mm ?? 46) * scale) / 2;
  const sensor = row.covers?.split(" × ").map((side) => Number(side) * scale);
  return (
    <g className={known ? "" : "unknown"}>
      <rect className="sil-metal" x={x} y={y} width={w} height={h} rx={Math.min(5, h * 0.08)} />
      <circle className="sil-line" cx={cx} cy={cy} r={throat + 7 * scale} />
      <circle className="sil-dark" cx={cx} cy={cy} r={throat} />
      {sensor && (
        <rect
          className="sil-gate"
          x={cx - (sensor[0] ?? 0) / 2}
          y={cy - (sensor[1] ?? 0) / 2}
          width={sensor[0]}
          height={sensor[1]}
        />
      )}
    </g>
  );
}

function Ring({ row, scale, width, height }: Part) {
  const outer = ((row.height_mm ?? 62) * scale) / 2;
  const throat = ((row.inner_mm ?? 44) * scale) / 2;
  const [cx, cy] = [width - 8 - outer, height / 2];
  const known = row.height_mm !== null && row.inner_mm !== null;
  return (
    <g className={known ? "" : "unknown"}>
      <circle className="sil-metal" cx={cx} cy={cy} r={outer} />
      <circle className="sil-hole" cx={cx} cy={cy} r={throat} />
      <path
        className="sil-line"
        d={`M${cx - outer - (row.width_mm ?? 0) * scale} ${cy}H${cx - outer}m0 -4v8m${-(row.width_mm ?? 0) * scale} 0v-8`}
      />
    </g>
  );
}
