import "./Clash.css";

import { useId } from "react";

import type { Route } from "../../api/client";
import { acrossOf, alongOf, type Frame, inside, LETTER_PX, place, wrapped } from "../scale";
import { adaptersOf, bodyOf, lensOf, type Scene } from "../scene";
import { at, both, box, line, outline, type Point } from "../shapes";
import { AdapterCut } from "./AdapterCut";
import { bodyEnd, BodyCut } from "./BodyCut";
import { LensCut, lensShape } from "./LensCut";

const CODES = [
  "coupling_damage",
  "generation_unknown",
  "excluded_by_maker",
  "thread_binds",
  "rear_collides",
  "rear_too_wide",
  "does_not_mate",
];

/** Where parts meet that must not: the place, and under a loupe what happens there. */
export function Clash({ scene, frame, hatch }: { scene: Scene; frame: Frame; hatch: readonly [string, string] }) {
  const id = useId().replace(/[^a-zA-Z0-9]/g, "");
  const spot = scene.route ? spotOf(scene, scene.route) : null;
  if (!spot) return null;
  const { z, r, code } = spot;
  const [x, y] = place(frame, alongOf(frame, z), acrossOf(frame, r));
  const clash = code === "coupling_damage" ? scene.route?.clashes[0] : undefined;
  const left = alongOf(frame, bodyEnd(scene, frame)) + 14;
  const caption = clash && !frame.upright ? captionOf(clash, frame) : [];
  // The caption and the scale bar below it.
  const floor = frame.height - 16 * caption.length - 26;
  const radius = frame.upright
    ? 66
    : Math.min(clash ? 98 : 118, (frame.width - left) / 2 - 8, frame.height / 2 - 40, floor / 2 - 4);
  const cx = frame.upright ? frame.width - radius - 4 : frame.width - radius - 12;
  const cy = frame.upright ? frame.height - radius - 4 : Math.min(frame.axis, floor - radius);
  const scale = frame.scale * 3.2;
  // The same drawing, larger, with the place in the middle of the loupe.
  const [along, across] = frame.upright ? [cy, cx] : [cx, cy];
  const near: Frame = {
    ...frame,
    scale,
    sensor: along + z * scale,
    axis: frame.upright ? across - r * scale : across + r * scale,
    breakFrom: null,
    removed: 0,
    width: 4000,
    height: 4000,
  };
  const adapters = adaptersOf(scene);
  const angle = Math.atan2(cy - y, cx - x);
  const grade = scene.route?.grade;
  return (
    <g className="clash" data-clash={code} data-grade={grade}>
      <path
        className="clash-leader"
        d={`M${x + 13 * Math.cos(angle)} ${y + 13 * Math.sin(angle)}L${cx - radius * Math.cos(angle)} ${cy - radius * Math.sin(angle)}`}
      />
      <circle className="clash-spot" cx={x} cy={y} r="13" />
      <clipPath id={id}>
        <circle cx={cx} cy={cy} r={radius} />
      </clipPath>
      <g clipPath={`url(#${id})`} className="near">
        <rect className="near-bed" x={cx - radius} y={cy - radius} width={2 * radius} height={2 * radius} />
        <BodyCut scene={scene} frame={near} hatch={hatch[0]} whole />
        {adapters.map((adapter, index) => (
          <AdapterCut key={index} frame={near} adapter={adapter} hatch={hatch[index % 2] ?? hatch[0]} />
        ))}
        <LensCut scene={scene} frame={near} hatch={hatch[1]} />
        {code === "coupling_damage" && <Parts frame={near} z={z} r={r} />}
        {code === "thread_binds" && <Threads frame={near} z={z} r={r} />}
        {code === "rear_collides" && <Overlap scene={scene} frame={near} />}
        {(code === "rear_too_wide" ||
          code === "does_not_mate" ||
          code === "generation_unknown" ||
          code === "excluded_by_maker") && <path className="clash-cross" d={crossAt(near, z, r, 2.2)} />}
      </g>
      <circle className="clash-rim" cx={cx} cy={cy} r={radius} />
      {caption.length > 0 && (
        <text className="clash-caption" textAnchor="middle">
          {caption.map((text, index) => (
            <tspan key={index} x={inside(frame, cx, text)} y={cy + radius + 17 + 16 * index}>
              {text}
            </tspan>
          ))}
        </text>
      )}
    </g>
  );
}

interface Spot {
  z: number;
  r: number;
  code: string;
}

/** Which part breaks which, in lines that fit behind the sensor. */
const captionOf = ({ lens_parts, body_parts }: Route["clashes"][number], frame: Frame) =>
  [lens_parts, body_parts]
    .map((parts, index) => (index ? "against the " : "") + parts.map(({ label }) => label).join(", "))
    .flatMap((text) => wrapped(text, (frame.width - frame.sensor - 24) / LETTER_PX));

/** The place of what caps the grade worst, if it is a place at all. */
function spotOf(scene: Scene, route: Route): Spot | null {
  const finding = CODES.map((code) => route.findings.find((one) => one.code === code)).find(Boolean);
  if (!finding) return null;
  const shape = lensShape(scene);
  const { z, half } = jointAt(scene, finding.link);
  switch (finding.code) {
    case "rear_collides":
      return {
        z: Math.max(bodyOf(scene)?.obstruction_mm ?? 0, shape.vertex ?? 0) - 0.5,
        r: shape.rearHalf - 0.6,
        code: finding.code,
      };
    case "rear_too_wide":
      return { z, r: shape.rearHalf, code: finding.code };
    case "thread_binds":
      return { z: z - 1, r: half * 0.78, code: finding.code };
    default:
      return { z, r: half * 0.86, code: finding.code };
  }
}

/** The joint that a piece names: the front of an adapter, the seat of the body; else the seat of the lens. */
function jointAt(scene: Scene, link: string | null): { z: number; half: number } {
  const [lens, body] = [lensOf(scene), bodyOf(scene)];
  const adapter = scene.section?.adapters.find((one) => one.link === link);
  if (adapter) return { z: adapter.front_mm, half: adapter.outer_mm / 2 };
  if (body?.link === link) return { z: body.seat_mm, half: body.flange_mm / 2 };
  return { z: lens?.seat_mm ?? 0, half: (lens?.flange_mm ?? 0) / 2 };
}

const crossAt = (frame: Frame, z: number, r: number, size: number) =>
  line(frame, [
    [z - size, r - size],
    [z + size, r + size],
  ]) +
  line(frame, [
    [z - size, r + size],
    [z + size, r - size],
  ]);

/** The lens's part and the body's part that would break each other, one in the other's way. */
function Parts({ frame, z, r }: { frame: Frame; z: number; r: number }) {
  return (
    <g className="parts">
      <path className="part of-lens" d={box(frame, z - 0.4, z + 5, r + 1.4, r + 4)} />
      <path className="part of-body" d={box(frame, z - 4.5, z + 2.4, r + 2, r + 3.2)} />
      <path className="overlap" d={box(frame, z - 0.4, z + 2.4, r + 2, r + 3.2)} />
    </g>
  );
}

/** Two threads of one diameter and unlike pitch: after a turn or two their flanks run into each other. */
function Threads({ frame, z, r }: { frame: Frame; z: number; r: number }) {
  const teeth = (pitch: number, base: number, depth: number): Point[] => {
    const count = Math.ceil(14 / pitch);
    const points: Point[] = Array.from({ length: count * 2 + 1 }, (_, index) => [
      z - 7 + (index * pitch) / 2,
      base + (index % 2 ? depth : 0),
    ]);
    return [[z - 7, base + Math.sign(depth) * -3], ...points, [z - 7 + count * pitch, base + Math.sign(depth) * -3]];
  };
  return (
    <g className="parts">
      <path className="part of-body" d={outline(frame, teeth(1.1, r - 0.8, 1.1))} />
      <path className="part of-lens" d={outline(frame, teeth(0.8, r + 0.6, -1.1))} />
      <path className="overlap" d={[0.6, 1.6, 2.7].map((step) => crossAt(frame, z + step - 1, r, 0.35)).join("")} />
    </g>
  );
}

/** The rear of the lens inside what stands in the body. */
function Overlap({ scene, frame }: { scene: Scene; frame: Frame }) {
  const shape = lensShape(scene);
  const rear = shape.vertex ?? shape.seat;
  const limit = bodyOf(scene)?.obstruction_mm ?? rear;
  const inner = shape.rearHalf - 2.5;
  return (
    <g className="parts">
      {both([
        [rear, inner],
        [rear, shape.rearHalf],
        [Math.max(limit, rear + 0.4), shape.rearHalf],
        [Math.max(limit, rear + 0.4), inner],
      ]).map((points, index) => (
        <path key={index} className="overlap" d={outline(frame, points)} data-from={at(frame, rear, 0)} />
      ))}
    </g>
  );
}
