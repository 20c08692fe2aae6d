import "./EndView.css";

import { useId } from "react";

import { mm } from "../../parts/format";
import { alongOf, type Frame, inside } from "../scale";
import type { Scene } from "../scene";
import { bodyEnd } from "./BodyCut";

const DANGERS = ["danger"];

/**
 * The sensor as the lens sees it, at the section's own scale and axis: circle, corners, mode in use, squeeze.
 */
export function EndView({ scene, frame }: { scene: Scene; frame: Frame }) {
  const id = useId().replace(/[^a-zA-Z0-9]/g, "");
  const body = scene.body === null ? undefined : scene.pieces[scene.body];
  const [width, height] = [body?.sensor_width_mm ?? null, body?.sensor_height_mm ?? null];
  if (width === null || height === null || (scene.route && DANGERS.includes(scene.route.grade))) return null;
  const lens = scene.lens === null ? undefined : scene.pieces[scene.lens];
  const route = scene.route;
  const k = frame.scale;
  const left = alongOf(frame, bodyEnd(scene, frame)) + 22;
  const room = frame.width - left - 8;
  const corner = (Math.hypot(width, height) / 2) * k;
  if (room < 2 * corner) return null;
  const cx = left + room / 2;
  const cy = frame.axis;
  const circle = route ? route.coverage.image_circle_mm : (lens?.image_circle_mm ?? null);
  const radius = circle === null ? null : (circle / 2) * k;
  const used = route ? [route.coverage.width_mm * k, route.coverage.height_mm * k] : null;
  const squeeze = lens?.squeeze ?? 1;
  const rect = (w: number, h: number) => ({ x: cx - w / 2, y: cy - h / 2, width: w, height: h });
  const low = Math.min(frame.height - 30, cy + Math.max(corner, Math.min(radius ?? 0, room / 2)) + 17);
  const spread = Math.min(((used?.[0] ?? width * k) * squeeze) / 2, room / 2 - 4);
  return (
    <g className="end-view" data-scale={k}>
      <clipPath id={`${id}s`}>
        <rect {...rect(width * k, height * k)} />
      </clipPath>
      <clipPath id={`${id}r`}>
        <rect x={left - 8} y={48} width={room + 14} height={frame.height - 60} />
      </clipPath>
      <path className="projection" d={[-1, 1].map((s) => `M${frame.sensor + 5} ${cy + s * corner}H${cx}`).join("")} />
      <path className="axis" d={`M${cx} ${cy - corner - 6}V${cy + corner + 6}`} />
      <g clipPath={`url(#${id}r)`}>
        {radius !== null && scene.lens !== null && <circle className="image-circle" cx={cx} cy={cy} r={radius} />}
        {radius === null && scene.lens !== null && (
          <circle className="image-circle unknown" cx={cx} cy={cy} r={corner + 5} />
        )}
      </g>
      <rect className="end-sensor" {...rect(width * k, height * k)} />
      {radius !== null && scene.lens !== null && (
        <circle className="lit" cx={cx} cy={cy} r={radius} clipPath={`url(#${id}s)`} />
      )}
      {used && <rect className="end-mode" {...rect(used[0] ?? 0, used[1] ?? 0)} />}
      {radius === null && scene.lens !== null && (
        <text className="unknown-mark" x={cx} y={cy + 12} textAnchor="middle">
          ?
        </text>
      )}
      {squeeze > 1 && (
        <g className="squeeze">
          <path
            d={`M${cx - spread} ${cy}H${cx + spread}M${cx - spread + 6} ${cy - 5}l-6 5 6 5M${cx + spread - 6} ${cy - 5}l6 5 -6 5`}
          />
          <rect {...rect(2 * spread, used?.[1] ?? height * k)} />
        </g>
      )}
      {(lens?.positions ?? 1) > 1 && (
        <path className="notches" d={[0, 90, 180, 270].map((degrees) => notch(cx, cy, corner + 9, degrees)).join("")} />
      )}
      {(lens?.positions ?? 1) > 1 && <circle className="pin" cx={cx} cy={cy - corner - 9} r="4" />}
      {caption(scene, circle, squeeze).map((text, index) => (
        <text key={text} className="end-caption" x={inside(frame, cx, text)} y={low + 17 * index} textAnchor="middle">
          {text}
        </text>
      ))}
      <desc>{scene.body ?? ""}</desc>
    </g>
  );
}

const notch = (cx: number, cy: number, radius: number, degrees: number) => {
  const angle = (degrees * Math.PI) / 180;
  const [s, c] = [Math.sin(angle), Math.cos(angle)];
  const point = (r: number) => `${cx + s * r} ${cy - c * r}`;
  return `M${point(radius - 4)}L${point(radius + 4)}`;
};

function caption(scene: Scene, circle: number | null, squeeze: number): string[] {
  if (scene.lens === null) return ["the sensor, from the front"];
  if (squeeze > 1) return [`pin up: ${squeeze} × wider`, `a quarter turn: ${squeeze} × taller`];
  return [circle === null ? "image circle unknown" : `image circle ${mm(circle, 1)} mm`];
}
