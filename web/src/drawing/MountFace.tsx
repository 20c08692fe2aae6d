import "./MountFace.css";

import { classes } from "../parts/classes";
import type { SystemPage } from "../api/client";

type Feature = Pick<SystemPage["mount"]["features"][number], "id" | "label" | "look_at" | "misleading">;

interface Props {
  /** Lens: seen from behind. Body: seen from the front. */
  side: "lens" | "body";
  features: readonly Feature[];
  /** The part that is asked about. */
  asked?: Feature | undefined;
  size: number;
  label: string;
  /** Each part has its number beside it, in the order of `features`. */
  numbered?: boolean;
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

/** The second half of a band, run backwards. */
const back = (radius: number, from: number, to: number) =>
  `${spot(radius, from)}A${radius} ${radius} 0 0 0 ${spot(radius, to)}`;

/** A row of teeth along a rim. */
const teeth = (radius: number, from: number, to: number) => {
  const count = Math.round((to - from) / 4);
  const points = Array.from({ length: 2 * count + 1 }, (_, index) =>
    spot(radius + (index % 2 ? 5 : 0), from + ((to - from) * index) / (2 * count)),
  );
  return `M${points.join("L")}`;
};

/** A small toothed wheel. */
const wheel = (x: number, y: number) =>
  Array.from({ length: 10 }, (_, index) => {
    const [along, across] = [Math.sin((index * Math.PI) / 5), Math.cos((index * Math.PI) / 5)];
    const at = (radius: number) => `${(x + radius * along).toFixed(2)} ${(y + radius * across).toFixed(2)}`;
    return `M${at(5)}L${at(8.5)}`;
  }).join("");

/** A mount as one looks at it, with its coupling parts where they stand. */
export function MountFace({ side, features, asked, size, label, numbered = false }: Props) {
  const shown = asked && !features.some(({ id }) => id === asked.id) ? [...features, asked] : features;
  return (
    <svg
      className={`face ${side}`}
      viewBox={numbered ? "-14 -14 228 228" : "0 0 200 200"}
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
      {numbered &&
        calledOut(features).map(({ feature, at, number }) => (
          <g key={feature.id} className="face-callout" data-callout={feature.id}>
            <path
              d={`M${spot(RADIUS[feature.look_at?.view ?? "flange"] + 8, feature.look_at?.clock_deg ?? 0)}L${spot(93, at)}`}
            />
            <circle cx={polar(102, at)[0]} cy={polar(102, at)[1]} r="10" />
            <text x={polar(102, at)[0]} y={polar(102, at)[1] + 5.5} textAnchor="middle">
              {number}
            </text>
          </g>
        ))}
    </svg>
  );
}

// Numbers nearer to each other than this, in degrees, would touch.
const APART = 15;

/** Where the number of each part stands: at the rim beside it, moved on where another one is. */
function calledOut(features: readonly Feature[]) {
  let last = -360;
  return features
    .map((feature, index) => ({ feature, number: index + 1, at: feature.look_at?.clock_deg ?? 0 }))
    .filter(({ feature }) => feature.look_at)
    .sort((one, other) => one.at - other.at)
    .map((one) => {
      last = Math.max(one.at, last + APART);
      return { ...one, at: last };
    });
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
      {asked && <circle className="face-asked" cx={x} cy={y} r={look.shape === "rack" ? 26 : 19} />}
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
  switch (shape) {
    case "rack":
      return <path className="line fine" d={teeth(radius, at - 80, at + 80)} />;
    case "short_rack":
      return <path className="line fine" d={teeth(radius, at - 16, at + 16)} />;
    case "hole":
      return (
        <>
          <circle className="hollow" cx={x} cy={y} r="5.5" />
          <circle className="solid" cx={x} cy={y} r="2" />
        </>
      );
    case "shoe":
      return (
        <path
          className="solid"
          d={`M${spot(radius - 6, at - 16)}L${spot(radius - 1, at - 16)}L${spot(radius - 1, at - 5)}L${spot(radius + 3, at - 5)}L${spot(radius + 3, at + 6)}L${spot(radius + 7, at + 6)}L${spot(radius + 7, at + 16)}L${spot(radius - 6, at + 16)}Z`}
        />
      );
    case "index":
      return (
        <path
          className="line"
          d={[-4, 4].map((aside) => `M${spot(radius - 6, at + aside)}L${spot(radius + 6, at + aside)}`).join("")}
        />
      );
    case "band":
      return (
        <path className="hollow" d={`${arc(radius + 3, at - 26, at + 26)}L${back(radius - 3, at + 26, at - 26)}Z`} />
      );
    case "pinion":
      return (
        <>
          <path className="line fine" d={wheel(x, y)} />
          <circle className="hollow" cx={x} cy={y} r="5" />
        </>
      );
    case "probe":
      // Filled, and held by a bar across: nothing of it moves.
      return (
        <>
          <circle className="solid" cx={x} cy={y} r="6" />
          <path className="line" d={`M${spot(radius + 8, at - 13)}L${spot(radius + 8, at + 13)}`} />
        </>
      );
    case "slide_probe":
      // Hollow, with the slot of its slide and the way that it goes.
      return (
        <>
          <circle className="hollow" cx={x} cy={y} r="6" />
          <path className="line fine" d={`M${spot(radius + 6, at)}L${spot(radius + 22, at)}`} />
          <path
            className="solid"
            d={`M${spot(radius + 26, at)}L${spot(radius + 19, at - 4)}L${spot(radius + 19, at + 4)}Z`}
          />
        </>
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
          {Array.from({ length: 5 }, (_, index) => polar(radius, at - 18 + index * 9)).map(([cx, cy], index) => (
            <circle key={index} className="contact" cx={cx} cy={cy} r="2.8" />
          ))}
        </>
      );
  }
}
