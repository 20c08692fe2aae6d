import "./MountFace.css";

import { classes } from "../../parts/classes";
import type { SystemPage } from "../../api/client";

type Feature = SystemPage["mount"]["features"][number];

interface Props {
  /** Lens: seen from behind. Body: seen from the front. */
  side: "lens" | "body";
  features: readonly Feature[];
  /** The part that is asked about. */
  asked?: Feature | undefined;
  size: number;
  label: string;
}

// Radii of the drawing, in its own units, from the axis outwards.
const RADIUS = { front: 50, rear: 47, flange: 58, ring: 72, barrel: 82 } as const;

const polar = (radius: number, degrees: number) => {
  const angle = (degrees * Math.PI) / 180;
  return [100 + radius * Math.sin(angle), 100 - radius * Math.cos(angle)] as const;
};

const spot = (radius: number, degrees: number) =>
  polar(radius, degrees)
    .map((value) => value.toFixed(2))
    .join(" ");

const arc = (radius: number, from: number, to: number) =>
  `M${spot(radius, from)}A${radius} ${radius} 0 ${to - from > 180 ? 1 : 0} 1 ${spot(radius, to)}`;

/** A mount as one looks at it, with its coupling parts where they stand. */
export function MountFace({ side, features, asked, size, label }: Props) {
  const shown = asked && !features.some(({ id }) => id === asked.id) ? [...features, asked] : features;
  return (
    <svg
      className={`face ${side}`}
      viewBox="0 0 200 200"
      width={size}
      height={size}
      role="img"
      aria-label={label}
    >
      {side === "lens" ? (
        <>
          <circle className="face-barrel" cx="100" cy="100" r="88" />
          <circle className="face-ring" cx="100" cy="100" r="77" />
          <circle className="face-flange" cx="100" cy="100" r="65" />
          <circle className="face-rear" cx="100" cy="100" r="44" />
          <circle className="face-glass" cx="100" cy="100" r="33" />
        </>
      ) : (
        <>
          <rect className="face-body" x="6" y="22" width="188" height="156" rx="12" />
          <circle className="face-flange" cx="100" cy="100" r="65" />
          <circle className="face-throat" cx="100" cy="100" r="46" />
          <rect className="face-sensor" x="72" y="81" width="56" height="38" />
        </>
      )}
      {shown.map((feature) => (
        <Part key={feature.id} feature={feature} asked={feature.id === asked?.id} />
      ))}
    </svg>
  );
}

function Part({ feature, asked }: { feature: Feature; asked: boolean }) {
  const look = feature.look_at;
  if (!look) return null;
  const radius = RADIUS[look.view];
  const at = look.clock_deg;
  const className = classes("face-part", look.shape, asked && "asked", feature.misleading && "misleading");
  const [x, y] = polar(radius, at);
  return (
    <g className={className} data-feature={feature.id}>
      <title>{feature.label}</title>
      {asked && <circle className="face-asked" cx={x} cy={y} r={look.shape === "collar" ? 26 : 19} />}
      <Shape shape={look.shape} radius={radius} at={at} x={x} y={y} />
    </g>
  );
}

type LookAt = NonNullable<Feature["look_at"]>;

/** Our own shapes for coupling parts; `radius` and `at` (degrees, clockwise from the top) say where. */
function Shape({
  shape,
  radius,
  at,
  x,
  y,
}: {
  shape: LookAt["shape"];
  radius: number;
  at: number;
  x: number;
  y: number;
}) {
  const turned = `rotate(${at} ${x} ${y})`;
  switch (shape) {
    case "fork":
      return (
        <path
          transform={turned}
          className="line"
          d={`M${x - 9} ${y + 4}V${y - 9}M${x + 9} ${y + 4}V${y - 9}M${x - 9} ${y + 4}H${x + 9}`}
        />
      );
    case "window":
      return <rect transform={turned} className="hollow" x={x - 4} y={y - 6} width="8" height="7" />;
    case "peg":
      return <circle className="solid" cx={x} cy={y} r="5" />;
    case "dot":
      return <circle className="solid" cx={x} cy={y} r="3.6" />;
    case "collar":
      return <circle className="line thick" cx="100" cy="100" r={radius} />;
    case "cut_collar":
      return <path className="line thick" d={arc(radius, at + 34, at + 326)} />;
    case "cam":
      return (
        <path
          className="solid"
          d={`M${spot(radius - 3, at - 11)}L${spot(radius + 10, at)}L${spot(radius - 3, at + 11)}Z`}
        />
      );
    case "bevel":
      return <path className="solid" d={`${arc(65, at - 17, at + 17)}L${spot(60, at)}Z`} />;
    case "tongue":
      return (
        <path
          className="solid"
          d={`M${spot(radius + 12, at - 6)}L${spot(radius - 15, at - 4)}L${spot(radius - 15, at + 4)}L${spot(radius + 12, at + 6)}Z`}
        />
      );
    case "scale":
      return (
        <path
          className="line fine"
          d={Array.from({ length: 9 }, (_, index) => at - 28 + index * 7)
            .map((degrees) => `M${spot(radius - 3, degrees)}L${spot(radius + 3, degrees)}`)
            .join("")}
        />
      );
    case "contacts":
      return (
        <>
          {Array.from({ length: 5 }, (_, index) => polar(radius, at - 18 + index * 9)).map(
            ([cx, cy], index) => (
              <circle key={index} className="contact" cx={cx} cy={cy} r="2.8" />
            ),
          )}
        </>
      );
  }
}
