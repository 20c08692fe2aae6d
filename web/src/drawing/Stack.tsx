import "./Stack.css";

import { adaptersOf, bodyOf, lensOf, type Scene } from "./scene";

/** Where a piece begins and ends before the sensor, and its diameter, in mm. */
type Box = readonly [rear: number, front: number, diameter: number];

/** What a miniature draws: lengths, glass, and what is owned. */
export interface Small {
  bodySeat: number;
  lens: Box | null;
  adapters: readonly { box: Box; owned: boolean; glass: boolean }[];
}

export function smallOf(scene: Scene): Small {
  const bodySeat = bodyOf(scene)?.seat_mm ?? 0;
  const lens = lensOf(scene);
  return {
    bodySeat,
    lens: lens && [lens.seat_mm, lens.front_mm, lens.diameter_mm],
    adapters: adaptersOf(scene).map(({ piece, rear, front, outer }) => ({
      box: [rear, front, outer * 2],
      owned: piece.owned > 0,
      glass: piece.optics !== "none",
    })),
  };
}

interface Props {
  small: Small;
  /** Pixels per millimetre, one for all routes. */
  scale: number;
  width: number;
  height: number;
}

/**
 * A route in miniature: sensors aligned at the right, so that length, glass and number of pieces compare by
 * eye.
 */
export function Stack({ small, scale, width, height }: Props) {
  const sensor = width - 10;
  const x = (z: number) => sensor - z * scale;
  const axis = height / 2;
  const { bodySeat, lens } = small;
  const box = ([from, to, diameter]: Box, className: string) => {
    const h = Math.min(height - 2, diameter * scale);
    const w = Math.max(1.4, (to - from) * scale);
    return <rect className={className} x={x(to)} y={axis - h / 2} width={w} height={h} />;
  };
  return (
    <svg className="stack" width={width} height={height} viewBox={`0 0 ${width} ${height}`} aria-hidden="true">
      {box([-3, bodySeat, 58], "stack-body")}
      {small.adapters.map(({ box: at, owned, glass }, index) => (
        <g key={index}>
          {box(at, owned ? "stack-owned" : "stack-to-buy")}
          {glass && (
            <ellipse
              className="stack-glass"
              cx={x((at[0] + at[1]) / 2)}
              cy={axis}
              rx={Math.max(2, 3 * scale)}
              ry={height * 0.34}
            />
          )}
        </g>
      ))}
      {lens && box([lens[0], Math.min(lens[1], (sensor - 2) / scale), lens[2]], "stack-lens")}
      <path className="stack-sensor" d={`M${sensor} 1V${height - 1}`} />
    </svg>
  );
}
