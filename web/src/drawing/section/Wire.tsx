import "./Wire.css";

import { acrossOf, alongOf, type Frame, place } from "../scale";
import { adaptersOf, bodyOf, lensOf, type Scene } from "../scene";
import { line, type Point } from "../shapes";

/** The contacts: from the body towards the lens, ending in a gap at the link that limits them. */
export function Wire({ scene, frame, side }: { scene: Scene; frame: Frame; side: 1 | -1 }) {
  const route = scene.route;
  if (!route || route.wire.ends_at === scene.body) return null;
  const ends = route.wire.ends_at;
  const seat = bodyOf(scene)?.seat_mm ?? 0;
  const throat = (bodyOf(scene)?.throat_mm ?? 0) / 2;
  const lensSeat = lensOf(scene)?.seat_mm ?? 0;
  const joints = adaptersOf(scene).reverse();
  const first = side * (throat + 1.2);
  const points: Point[] = [
    [Math.max(2, seat * 0.3), first],
    [seat, first],
  ];
  const dots: Point[] = [[seat, first]];
  let gap: readonly [Point, Point] | null = null;
  let chip: Point | null = null;
  let behind = seat;
  let last = first;
  for (const { id, piece, rear, front, bore, outer } of joints) {
    const r = side * (bore + (outer - bore) * 0.36);
    if (ends === id) {
      const middle = (rear + front) / 2;
      const half = Math.min(3, (front - rear) / 4);
      if (piece.link === "chip") {
        points.push([rear + 0.01, r], [middle, r]);
        chip = [middle, r];
      } else if (piece.link === "none") {
        gap = [
          [behind, r],
          [behind + Math.min(4.5, (front - rear) / 2), r],
        ];
      } else {
        points.push([rear + 0.01, r], [middle - half, r]);
        gap = [
          [middle - half, r],
          [middle + half, r],
        ];
      }
      break;
    }
    points.push([rear + 0.01, r], [front, r]);
    dots.push([front, r]);
    behind = front;
    last = r;
  }
  if (gap === null && chip === null) {
    if (ends === null) points.push([lensSeat + 9, last]);
    else
      gap = [
        [lensSeat, last],
        [lensSeat + 5, last],
      ];
  }
  const path = line(frame, points);
  const spot = ([z, r]: Point) => {
    const [cx, cy] = place(frame, alongOf(frame, z), acrossOf(frame, r));
    return { cx, cy };
  };
  return (
    <g className={`wire ${route.wire.slow ? "slow" : ""}`} data-ends-at={ends ?? "whole"}>
      <title>
        {ends === null ? "The contacts reach the lens" : `The contacts end at ${scene.pieces[ends]?.name ?? ends}`}
      </title>
      <path className="casing" d={path} />
      <path d={path} />
      {dots.map((point, index) => (
        <circle key={index} {...spot(point)} r="2.6" className="joint" />
      ))}
      {gap && <circle {...spot(gap[0])} r="3.2" className="terminal" />}
      {gap && <circle {...spot(gap[1])} r="3.2" className="terminal" />}
      {chip && <rect className="terminal" x={spot(chip).cx - 5} y={spot(chip).cy - 5} width="10" height="10" />}
      {ends === null && <circle {...spot([lensSeat + 9, last])} r="3.2" className="terminal live" />}
    </g>
  );
}
