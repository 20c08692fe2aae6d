import "./front.css";

import type { FiltersPage } from "../../api/planQueries";

type Rings = FiltersPage["plan"]["lenses"][number];

const SCALE = 0.62;
const HIGH = 64;
const WIDE = 116;

/** The front of a lens with its rings and filter, to scale; the widest rays of its view. */
export function StackRow({ rings, size_mm }: { rings: Rings; size_mm: number }) {
  const { thread_mm: thread, depth_mm: depth } = rings;
  const middle = HIGH / 2;
  if (thread === null) return <svg className="front-row" width={WIDE} height={HIGH} aria-hidden="true" />;
  const low = (thread / 2) * SCALE;
  const high = (size_mm / 2) * SCALE;
  const deep = (depth ?? 0) * SCALE;
  const there = depth !== null && high >= low;
  const filter = 5 * SCALE;
  const front = 40 + deep + filter;
  const half = (rings.view_deg / 2) * (Math.PI / 180);
  const reach = 34;
  return (
    <svg className="front-row" width={WIDE} height={HIGH} aria-hidden="true">
      <path className="front-lens" d={`M4 ${middle - low}H40V${middle + low}H4z`} />
      {there && depth > 0 && (
        <path
          className="front-ring"
          d={`M40 ${middle - low}H${40 + deep}V${middle - high}M40 ${middle + low}H${40 + deep}V${middle + high}`}
        />
      )}
      {there && (
        <path className="front-filter" d={`M${40 + deep} ${middle - high}h${filter}V${middle + high}h${-filter}z`} />
      )}
      <path
        className={rings.sees_it ? "front-ray meets" : "front-ray"}
        d={`M40 ${middle - low}L${front + reach} ${middle - low - Math.tan(half) * (front + reach - 40)}M40 ${middle + low}L${front + reach} ${middle + low + Math.tan(half) * (front + reach - 40)}`}
      />
    </svg>
  );
}
