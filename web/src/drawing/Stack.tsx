import type { MatchReport, Route } from "../api/client";
import { find } from "./scale";

interface Props {
  report: MatchReport;
  route: Route;
  /** Pixels per millimetre, one for all routes. */
  scale: number;
  width: number;
  height: number;
}

/** A route in miniature: sensors aligned at the right, so that length, glass and number of pieces compare by eye. */
export function Stack({ report, route, scale, width, height }: Props) {
  const sensor = width - 10;
  const x = (z: number) => sensor - z * scale;
  const axis = height / 2;
  const seat = find(route, "lens_seat")?.at_mm ?? 0;
  const front = Math.min(find(route, "lens_front")?.at_mm ?? seat + 40, (sensor - 2) / scale);
  const bodySeat = find(route, "body_seat")?.at_mm ?? 0;
  const box = (from: number, to: number, diameter: number, className: string, key: string) => {
    const h = Math.min(height - 2, diameter * scale);
    return <rect key={key} className={className} x={x(to)} y={axis - h / 2} width={Math.max(1, (to - from) * scale)} height={h} />;
  };
  return (
    <svg className="stack" width={width} height={height} viewBox={`0 0 ${width} ${height}`} aria-hidden="true">
      {box(-3, bodySeat, 58, "stack-body", "body")}
      {route.adapters.map((id) => {
        const own = (kind: string) => route.stations.find((s) => s.kind === kind && s.link === id);
        const rear = own("adapter_rear")?.at_mm ?? 0;
        const fore = own("adapter_front")?.at_mm ?? 0;
        const piece = report.pieces[id];
        const glass = own("glass");
        return (
          <g key={id}>
            {box(rear, fore, own("adapter_front")?.diameter_mm ?? 60, piece?.owned ? "stack-owned" : "stack-to-buy", id)}
            {glass && <ellipse className="stack-glass" cx={x((rear + fore) / 2)} cy={axis} rx="3" ry={height * 0.34} />}
          </g>
        );
      })}
      {box(seat, front, find(route, "lens_front")?.diameter_mm ?? 60, "stack-lens", "lens")}
      <path className="stack-sensor" d={`M${sensor} 1V${height - 1}`} />
    </svg>
  );
}
