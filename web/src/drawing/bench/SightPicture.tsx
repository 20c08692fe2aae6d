import "./bench.css";

interface Props {
  kind: string;
}

/** What to look at, on the ground from the camera (left) to the horizon: posts that are sharp or soft. */
export function SightPicture({ kind }: Props) {
  return (
    <svg className="sight-picture" width="104" height="40" viewBox="0 0 104 40" aria-hidden="true">
      <path className="error-axis" d="M4 34H100" />
      {/* The camera, from above its ground. */}
      <path className="caliper-jaw" d="M4 24h10v8H4zM14 26h4v4h-4z" />
      <Scene kind={kind} />
    </svg>
  );
}

const post = (x: number, sharp: boolean, high = 18) => (
  <path key={`${x} ${String(sharp)}`} className={sharp ? "wall-sharp" : "wall-soft"} d={`M${x} 34v${-high}`} />
);

const star = (sharp: boolean) =>
  sharp ? (
    <path className="wall-sharp" d="M96 6v8M92 10h8" />
  ) : (
    <circle className="wall-soft" cx="96" cy="10" r="4" fill="none" />
  );

const ring = (label: string) => (
  <g>
    <path className="bench-metal" d="M24 8h34v12H24z" />
    <path className="wall-sharp" d="M41 4v6" />
    <text x="41" y="18" textAnchor="middle" fontSize="10">
      {label}
    </text>
  </g>
);

function Scene({ kind }: Props) {
  switch (kind) {
    case "edge_blur":
      // A dark roof that gets lighter step by step.
      return (
        <>
          <path className="bench-metal" d="M30 34V14l22-8v28z" />
          {[52, 56, 60].map((x, step) => (
            <path
              key={x}
              className="bench-metal"
              opacity={0.7 - 0.25 * step}
              d={`M${x} 34V${6 + step}h4v${28 - step}z`}
            />
          ))}
          <path className="wall-soft" d="M72 34V8" />
        </>
      );
    case "far_limit":
      return (
        <>
          {[post(34, true), post(52, true), post(70, false), post(86, false)]}
          {star(false)}
        </>
      );
    case "far_limit_mark":
      return (
        <>
          {ring("∞")}
          {[post(70, true), post(86, false)]}
          {star(false)}
        </>
      );
    case "near_limit":
      return <>{[post(30, false), post(42, true), post(60, true), post(80, true)]}</>;
    case "scale":
      return (
        <>
          {ring("3")}
          {[post(72, true)]}
          <path className="error-axis" d="M18 38H72M72 35v5" />
        </>
      );
    case "past_infinity":
      return (
        <>
          {ring("12")}
          {star(true)}
        </>
      );
    case "infinity_from":
      return (
        <>
          <text x="42" y="20" textAnchor="middle" fontSize="12">
            f/8
          </text>
          {star(true)}
        </>
      );
    case "nothing_at_any_stop":
      return (
        <>
          <text x="42" y="20" textAnchor="middle" fontSize="12">
            f/22
          </text>
          {star(false)}
        </>
      );
    case "nothing_anywhere":
      return (
        <>
          {[post(34, false), post(52, false), post(72, false)]}
          {star(false)}
        </>
      );
    default:
      return <path className="caliper-jaw" d="M30 8h40v4H30zM34 12h5v16l-5 -5zM58 12h-5v16l5 -5z" />;
  }
}
