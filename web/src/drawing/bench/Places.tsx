interface Props {
  cx: number;
  cy: number;
  radius: number;
  /** The places around the seat in degrees from the top, clockwise, and what was read there last. */
  places: readonly { deg: number; reading: number | null }[];
  current: number | null;
}

export const placePoint = (cx: number, cy: number, radius: number, deg: number) => {
  const angle = ((deg - 90) * Math.PI) / 180;
  return [cx + radius * Math.cos(angle), cy + radius * Math.sin(angle)] as const;
};

/** The seat from its end, with the places where it is read: the wedge is a difference between them. */
export function Places({ cx, cy, radius, places, current }: Props) {
  return (
    <g className="bench-places" aria-hidden="true">
      <circle className="bench-places-ring" cx={cx} cy={cy} r={radius} />
      <circle className="bench-places-ring" cx={cx} cy={cy} r={radius * 0.68} />
      {places.map(({ deg, reading }) => {
        const [x, y] = placePoint(cx, cy, radius * 0.84, deg);
        const [tx, ty] = placePoint(cx, cy, radius * (deg % 180 === 0 ? 0.4 : 0.34), deg);
        return (
          <g key={deg} data-place={deg} className={deg === current ? "current" : ""}>
            <circle cx={x} cy={y} r={deg === current ? 7 : 5} className={reading === null ? "" : "read"} />
            {reading !== null && (
              <text x={tx} y={ty + 4} textAnchor="middle">
                {reading.toFixed(2)}
              </text>
            )}
          </g>
        );
      })}
    </g>
  );
}
