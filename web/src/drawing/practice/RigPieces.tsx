import "./practice.css";

import type { Piece } from "../../api/client";
import { adaptersOf, bodyOf, lensOf, type Scene } from "../scene";

interface Props {
  scene: Scene;
  described: string;
  /** A piece can be pointed at; the one that was is marked. */
  onPoint?: ((id: string) => void) | undefined;
  pointed?: string | null;
}

interface Drawn {
  id: string;
  piece: Piece | undefined;
  kind: "lens" | "adapter" | "body";
  /** Along the axis before the sensor, and across, in mm. */
  rear: number;
  front: number;
  across: number;
}

const WIDTH = 640;
const HEIGHT = 232;
const AXIS = 96;

/** The pieces of a rig one behind the other, to scale and without their light: where each begins and ends. */
export function RigPieces({ scene, described, onPoint, pointed = null }: Props) {
  const drawn = piecesOf(scene);
  const [front, back] = [Math.max(...drawn.map((one) => one.front)), Math.min(...drawn.map((one) => one.rear))];
  const broad = Math.max(...drawn.map((one) => one.across));
  const scale = Math.min((WIDTH - 40) / (front - back), 168 / broad, 5);
  // What is left over stands at either side.
  const left = (WIDTH - (front - back) * scale) / 2;
  const below = AXIS + (broad * scale) / 2 + 18;
  const x = (mm: number) => left + (front - mm) * scale;
  return (
    <svg
      className="rig-pieces"
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      role={onPoint ? "group" : "img"}
      aria-label={described}
      data-scale={scale.toFixed(3)}
    >
      <path className="axis" d={`M8 ${AXIS}H${WIDTH - 8}`} />
      {drawn.map((one, index) => {
        const [from, to] = [x(one.front), x(one.rear)];
        const half = (one.across * scale) / 2;
        const middle = (from + Math.max(to, from + 3)) / 2;
        const name = one.piece?.name ?? one.id;
        return (
          <g
            key={`${one.id} ${index}`}
            className={["piece", one.kind, pointed === one.id ? "pointed" : ""].join(" ")}
            data-piece={one.id}
            {...(onPoint
              ? {
                  role: "button",
                  tabIndex: 0,
                  "aria-label": name,
                  onClick: () => onPoint(one.id),
                  onKeyDown: (event: React.KeyboardEvent) => {
                    if (event.key !== "Enter" && event.key !== " ") return;
                    event.preventDefault();
                    event.stopPropagation();
                    onPoint(one.id);
                  },
                }
              : {})}
          >
            <rect x={from} y={AXIS - half} width={Math.max(3, to - from)} height={2 * half} rx={1.5} />
            {one.piece?.optics !== undefined && one.piece.optics !== "none" && one.kind === "adapter" && (
              <ellipse className="piece-glass" cx={(from + to) / 2} cy={AXIS} rx={5} ry={half * 0.6} />
            )}
            {one.kind === "lens" && <ellipse className="piece-glass" cx={from + 7} cy={AXIS} rx={5} ry={half * 0.72} />}
            <path className="piece-leader" d={`M${middle} ${AXIS + half}V${below - 9}`} />
            <circle className="piece-number" cx={middle} cy={below} r="9" />
            <text x={middle} y={below + 4.5} textAnchor="middle">
              {index + 1}
            </text>
          </g>
        );
      })}
      <path className="piece-sensor" d={`M${x(0)} ${AXIS - 26}v52`} />
    </svg>
  );
}

function piecesOf(scene: Scene): Drawn[] {
  const [lens, body] = [lensOf(scene), bodyOf(scene)];
  const piece = (id: string) => scene.pieces[id];
  return [
    ...(lens && scene.lens
      ? [
          {
            id: scene.lens,
            piece: piece(scene.lens),
            kind: "lens" as const,
            rear: lens.seat_mm,
            front: lens.front_mm,
            across: lens.diameter_mm,
          },
        ]
      : []),
    ...adaptersOf(scene).map((one) => ({
      id: one.piece.id,
      piece: one.piece,
      kind: "adapter" as const,
      rear: one.rear,
      front: one.front,
      across: 2 * one.outer,
    })),
    ...(body && scene.body
      ? [{ id: scene.body, piece: piece(scene.body), kind: "body" as const, rear: -8, front: body.seat_mm, across: 74 }]
      : []),
  ];
}
