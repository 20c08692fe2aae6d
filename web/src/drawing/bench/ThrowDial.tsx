import "./bench.css";

interface Props {
  /** Turned between the two distances, in degrees, and the same of other lenses. */
  turnedDeg: number;
  others: readonly { name: string; deg: number }[];
}

const SIZE = 340;

function arc(radius: number, deg: number): string {
  const centre = SIZE / 2;
  const turn = Math.min(359.9, Math.max(0.1, deg));
  const angle = ((turn - 90) * Math.PI) / 180;
  const [x, y] = [centre + radius * Math.cos(angle), centre + radius * Math.sin(angle)];
  return `M${centre} ${centre - radius}A${radius} ${radius} 0 ${turn > 180 ? 1 : 0} 1 ${x} ${y}`;
}

/** The focus ring from the front: how far it turns between two distances, beside other lenses. */
export function ThrowDial({ turnedDeg, others }: Props) {
  const rings = others.slice(0, 6);
  return (
    <svg
      className="sheet-svg throw-dial"
      width={SIZE}
      height={SIZE}
      viewBox={`0 0 ${SIZE} ${SIZE}`}
      role="img"
      aria-label={`It turns ${turnedDeg.toFixed(0)} degrees between the two`}
    >
      <circle className="throw-ring" cx={SIZE / 2} cy={SIZE / 2} r={150} />
      <path className="throw-arc" d={arc(150, turnedDeg)} data-turned={turnedDeg.toFixed(1)} />
      {rings.map((one, index) => (
        <g key={one.name}>
          <circle className="throw-ring" cx={SIZE / 2} cy={SIZE / 2} r={130 - index * 16} />
          <path className="throw-other" d={arc(130 - index * 16, one.deg)} />
          <text x={SIZE / 2 - 5} y={SIZE / 2 - 126 + index * 16} textAnchor="end" fontSize="11">
            {one.name.length > 22 ? `${one.name.slice(0, 21)}…` : one.name}
          </text>
        </g>
      ))}
      <text x={SIZE / 2} y={SIZE / 2 + 60} textAnchor="middle" fontSize="26">
        {`${turnedDeg.toFixed(0)}°`}
      </text>
    </svg>
  );
}
