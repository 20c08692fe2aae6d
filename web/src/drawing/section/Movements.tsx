import "./Movements.css";

import { useId } from "react";

import { acrossOf, alongOf, type Frame, place } from "../scale";
import { adaptersOf, type Scene } from "../scene";
import { line, outline } from "../shapes";
import { mm } from "../../parts/format";
import { lensShape, silhouetteOf } from "./LensCut";

/** What the chain can be set to: a helicoid's way out, a tilt, a shift, as ghosts of the lens. */
export function Movements({ scene, frame }: { scene: Scene; frame: Frame }) {
  const id = useId().replace(/[^a-zA-Z0-9]/g, "");
  const shape = lensShape(scene);
  const lens = scene.lens === null ? undefined : scene.pieces[scene.lens];
  const adapters = adaptersOf(scene);
  const helicoid = adapters.reduce((sum, { piece }) => sum + piece.helicoid_mm, 0);
  const tilting = adapters.find(({ piece }) => piece.tilt_deg > 0);
  const tilt = tilting?.piece.tilt_deg ?? lens?.tilt_deg ?? 0;
  const shift = adapters.find(({ piece }) => piece.shift_mm > 0)?.piece.shift_mm ?? lens?.shift_mm ?? 0;
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
  const [tx, ty] = place(
    frame,
    alongOf(frame, shape.front + helicoid) - 10,
    acrossOf(frame, frame.upright ? 0 : -shape.outer * 0.86),
  );
  const arm = shape.front + 5;
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
      {helicoid > 0 && (
        <path d={ghost} transform={frame.upright ? `translate(0 ${-out})` : `translate(${-out} 0)`} />
      )}
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
          d={`M${arcPoint(px, py, frame, arm - pivot, 0)}A${(arm - pivot) * frame.scale} ${(arm - pivot) * frame.scale} 0 0 ${frame.upright ? 0 : 1} ${arcPoint(px, py, frame, arm - pivot, tilt)}`}
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
      <text
        x={tx}
        y={frame.upright ? Math.max(14, ty - out - 6) : ty}
        textAnchor={frame.upright ? "middle" : "end"}
      >
        {said.join(", ")}
      </text>
    </g>
  );
}

/** A point on the arc that the axis sweeps when the lens tilts. */
const arcPoint = (x: number, y: number, frame: Frame, length: number, degrees: number) => {
  const angle = (degrees * Math.PI) / 180;
  const [along, across] = [length * frame.scale * Math.cos(angle), length * frame.scale * Math.sin(angle)];
  return frame.upright ? `${x + -across} ${y - along}` : `${x - along} ${y - across}`;
};
