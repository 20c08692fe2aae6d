import "./Movements.css";

import { useId } from "react";

import { acrossOf, alongOf, type Frame, LABEL_ROWS, place } from "../scale";
import { movementsOf, type Scene } from "../scene";
import { line, outline } from "../shapes";
import { mm } from "../../parts/format";
import { lensShape, silhouetteOf } from "./LensCut";

/** What the chain can be set to: a helicoid's way out, a tilt, a shift, as ghosts of the lens. */
export function Movements({ scene, frame }: { scene: Scene; frame: Frame }) {
  const id = useId().replace(/[^a-zA-Z0-9]/g, "");
  const shape = lensShape(scene);
  const { helicoid, tilting, tilt, shift } = movementsOf(scene);
  if (!helicoid && !tilt && !shift) return null;
  const ghost = outline(frame, silhouetteOf(shape));
  const pivot = tilting ? (tilting.rear + tilting.front) / 2 : shape.seat;
  const [px, py] = place(frame, alongOf(frame, pivot), acrossOf(frame, 0));
  const [sx, sy] = frame.upright ? [shift * frame.scale, 0] : [0, -shift * frame.scale];
  const out = helicoid * frame.scale;
  const said = [
    helicoid ? `moves out by ${mm(helicoid)} mm` : "",
    tilt ? `tilts by ${Number(tilt.toFixed(1))}°` : "",
    shift ? `shifts by ${mm(shift, 1)} mm` : "",
  ].filter(Boolean);
  const text = frame.upright
    ? { x: acrossOf(frame, 0), y: Math.max(14, alongOf(frame, shape.front + helicoid) - 16) }
    : { x: alongOf(frame, shape.seat) - 14, y: LABEL_ROWS.movement };
  const arm = shape.front + 5;
  // In pixels, since part of a long barrel may be left out.
  const radius = alongOf(frame, pivot) - alongOf(frame, arm);
  return (
    <g className="movements" data-movements={said.join(", ")}>
      <marker
        id={id}
        viewBox="0 0 8 8"
        refX="6"
        refY="4"
        markerWidth="7"
        markerHeight="7"
        orient="auto-start-reverse"
        markerUnits="userSpaceOnUse"
      >
        <path className="head" d="M0 0L8 4L0 8Z" />
      </marker>
      {helicoid > 0 && <path d={ghost} transform={frame.upright ? `translate(0 ${-out})` : `translate(${-out} 0)`} />}
      {tilt > 0 && <path d={ghost} transform={`rotate(${frame.upright ? -tilt : tilt} ${px} ${py})`} />}
      {shift > 0 && <path d={ghost} transform={`translate(${sx} ${sy})`} />}
      {helicoid > 0 && (
        <path
          className="arrow"
          d={line(frame, [
            [shape.front + 0.6, 0],
            [shape.front + helicoid, 0],
          ])}
          markerEnd={`url(#${id})`}
        />
      )}
      {tilt > 0 && (
        <path
          className="arrow"
          d={`M${arcPoint(px, py, frame, radius, 0)}A${radius} ${radius} 0 0 ${frame.upright ? 0 : 1} ${arcPoint(px, py, frame, radius, tilt)}`}
          markerEnd={`url(#${id})`}
        />
      )}
      {shift > 0 && (
        <path
          className="arrow"
          d={line(frame, [
            [arm, 0],
            [arm, shift],
          ])}
          markerEnd={`url(#${id})`}
        />
      )}
      <text {...text} textAnchor={frame.upright ? "middle" : "end"}>
        {said.join(", ")}
      </text>
    </g>
  );
}

/** A point on the arc that the axis sweeps when the lens tilts. */
const arcPoint = (x: number, y: number, frame: Frame, radius: number, degrees: number) => {
  const angle = (degrees * Math.PI) / 180;
  const [along, across] = [radius * Math.cos(angle), radius * Math.sin(angle)];
  return frame.upright ? `${x + -across} ${y - along}` : `${x - along} ${y - across}`;
};
