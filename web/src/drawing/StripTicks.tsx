import { mm } from "../parts/format";

export type Seg = (a0: number, d0: number, a1: number, d1: number) => string;
export type Spot = (a: number, depth: number) => { x: number; y: number };
export type Put = (a: number, depth: number) => string;

/** The scale of the strip, in hundredths or in twentieths of a millimetre. */
export function Ticks({
  length,
  half,
  along,
  seg,
  spot,
  base,
  upright,
}: {
  length: number;
  half: number;
  along: (error: number) => number;
  seg: Seg;
  spot: Spot;
  base: number;
  upright: boolean;
}) {
  const wide = length > 700;
  const step = wide ? 0.01 : 0.05;
  const count = Math.floor(half / step);
  const all = Array.from({ length: 2 * count + 1 }, (_, index) => index - count);
  const size = (index: number) => (index % 10 === 0 ? 9 : index % 5 === 0 ? 6 : 3);
  const every = wide ? 20 : 8;
  return (
    <g className="ticks">
      <path d={all.map((index) => seg(along(index * step), base, along(index * step), base + size(index))).join("")} />
      {all
        .filter((index) => index % every === 0 && Math.abs(index * step) < half - 0.05)
        .map((index) => {
          const { x, y } = spot(along(index * step), base + (upright ? 5 : 19));
          return (
            <text key={index} x={upright ? x + 20 : x} y={upright ? y + 4 : y} textAnchor={upright ? "end" : "middle"}>
              {index === 0 ? "0" : mm(index * step, 1)}
            </text>
          );
        })}
    </g>
  );
}

interface Spread {
  worst_case: number;
  density: number[];
}

/** How the register error spreads between two positions, as an area over the base line. */
export function area(
  along: (error: number) => number,
  p: Put,
  mean: number,
  { worst_case: worst, density }: Spread,
  base: number,
  from: number,
  to: number,
  half: number,
): string {
  const low = Math.max(from, mean - worst, -half);
  const high = Math.min(to, mean + worst, half);
  if (high <= low || density.length < 2) return "";
  const last = density.length - 1;
  const height = (value: number) => {
    const place = Math.min(Math.max(((value - mean + worst) / (2 * worst)) * last, 0), last);
    const [left, right] = [Math.floor(place), Math.ceil(place)];
    const [one, other] = [density[left] ?? 0, density[right] ?? 0];
    return one + (other - one) * (place - left);
  };
  const steps = Array.from({ length: last + 1 }, (_, index) => low + ((high - low) * index) / last);
  const points = steps.map((value) => p(along(value), base - (base - 12) * height(value)));
  return `M${p(along(low), base)}L${points.join("L")}L${p(along(high), base)}Z`;
}
