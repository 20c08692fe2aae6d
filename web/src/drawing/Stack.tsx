import "./Stack.css";

import { adaptersOf, bodyOf, lensOf, type Scene } from "./scene";

interface Props {
  scene: Scene;
  /** Pixels per millimetre, one for all routes. */
  scale: number;
  width: number;
  height: number;
}

/**
 * A route in miniature: sensors aligned at the right, so that length, glass and number of pieces compare by
 * eye.
 */
export function Stack({ scene, scale, width, height }: Props) {
  const sensor = width - 10;
  const x = (z: number) => sensor - z * scale;
  const axis = height / 2;
  const bodySeat = bodyOf(scene)?.seat_mm ?? 0;
  const lens = lensOf(scene);
  const front = Math.min(lens?.front_mm ?? bodySeat + 40, (sensor - 2) / scale);
  const box = (from: number, to: number, diameter: number, className: string, key: string | number) => {
    const h = Math.min(height - 2, diameter * scale);
    return (
      <rect
        key={key}
        className={className}
        x={x(to)}
        y={axis - h / 2}
        width={Math.max(1.4, (to - from) * scale)}
        height={h}
      />
    );
  };
  return (
    <svg
      className="stack"
      width={width}
      height={height}
      viewBox={`0 0 ${width} ${height}`}
      aria-hidden="true"
    >
      {box(-3, bodySeat, 58, "stack-body", "body")}
      {adaptersOf(scene).map(({ piece, rear, front: fore, outer }, index) => (
        <g key={index}>
          {box(rear, fore, outer * 2, piece.owned ? "stack-owned" : "stack-to-buy", index)}
          {piece.optics !== "none" && (
            <ellipse
              className="stack-glass"
              cx={x((rear + fore) / 2)}
              cy={axis}
              rx={Math.max(2, 3 * scale)}
              ry={height * 0.34}
            />
          )}
        </g>
      ))}
      {lens && box(lens.seat_mm, front, lens.diameter_mm, "stack-lens", "lens")}
      <path className="stack-sensor" d={`M${sensor} 1V${height - 1}`} />
    </svg>
  );
}
