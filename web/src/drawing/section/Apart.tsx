import "./Apart.css";

import { mm } from "../../parts/format";
import { acrossOf, alongOf, type Frame, place } from "../scale";
import { bodyOf, lensOf, type Scene } from "../scene";
import { both, box, line, outline, type Point } from "../shapes";

interface Props {
  scene: Scene;
  frame: Frame;
  hatch: string;
}

/** What is not there: the ring that would have to exist, the room that is missing, or the other end. */
export function Apart({ scene, frame }: Props) {
  const [lens, body] = [lensOf(scene), bodyOf(scene)];
  if (lens && body && scene.route === null) return <Missing scene={scene} frame={frame} />;
  if (lens && !body) return <NoBody frame={frame} seat={lens.seat_mm} flange={lens.flange_mm / 2} />;
  if (body && !lens) return <NoLens frame={frame} seat={body.seat_mm} flange={body.flange_mm / 2} />;
  return null;
}

/**
 * The ring between two that nothing joins, as a dimensioned ghost; or how far the one would stand in the
 * other.
 */
function Missing({ scene, frame }: { scene: Scene; frame: Frame }) {
  const [lens, body] = [lensOf(scene), bodyOf(scene)];
  if (!lens || !body) return null;
  const gap = lens.seat_mm - body.seat_mm;
  const outer = Math.max(lens.flange_mm, body.flange_mm) / 2;
  const bore = Math.max(10, Math.min(lens.flange_mm, body.flange_mm) / 2 - 9);
  const from = Math.min(lens.seat_mm, body.seat_mm);
  const to = Math.max(lens.seat_mm, body.seat_mm);
  const [x, y] = place(frame, alongOf(frame, to), acrossOf(frame, -outer));
  const unknown = [scene.lens, scene.body].some((id) => id && scene.pieces[id]?.register_mm === null);
  const text = unknown
    ? "how long a ring would be is not known"
    : gap > 0.005
      ? `${mm(gap)} mm: a ring that is not there`
      : gap < -0.005
        ? `${mm(-gap)} mm too deep`
        : "no room at all";
  return (
    <g className={`ghost-ring ${gap > 0 ? "room" : "no-room"}`} data-gap={unknown ? "not known" : gap}>
      {(scene.mayStand ?? []).map((seat) => {
        const [tx, ty] = place(frame, alongOf(frame, seat), acrossOf(frame, outer + 1));
        return (
          <g key={seat} className="may-stand" data-seat={seat}>
            <path
              d={line(frame, [
                [seat, -outer - 2],
                [seat, outer],
              ])}
            />
            <text x={tx} y={ty - 2} textAnchor={frame.upright ? "start" : "middle"}>
              {mm(seat)}
            </text>
          </g>
        );
      })}
      {[1, -1].map((side) => (
        <path
          key={side}
          className="ghost-metal"
          d={box(frame, from, Math.max(to, from + 0.3), side * bore, side * outer)}
        />
      ))}
      <path
        className="ghost-dimension"
        d={
          line(frame, [
            [from, -outer - 3],
            [to, -outer - 3],
          ]) +
          [from, to]
            .map((z) =>
              line(frame, [
                [z, -outer],
                [z, -outer - 4.5],
              ]),
            )
            .join("")
        }
      />
      <text
        x={frame.upright ? frame.width - 6 : x}
        y={frame.upright ? frame.height - 34 : Math.min(y + 5.5 * frame.scale + 6, frame.height - 8)}
        textAnchor="end"
      >
        {text}
      </text>
    </g>
  );
}

function NoBody({ frame, seat, flange }: { frame: Frame; seat: number; flange: number }) {
  const shell: Point[] = [
    [seat, flange - 5],
    [seat, flange + 3],
    [seat - 6, flange + 9],
    [-34, flange + 9],
    [-38, flange + 5],
    [-38, 0],
  ];
  const [x, y] = place(frame, alongOf(frame, -21), acrossOf(frame, 0));
  return (
    <g className="absent" data-absent="body">
      {both(shell).map((points, index) => (
        <path key={index} d={line(frame, points)} />
      ))}
      <text x={x} y={y + 10} textAnchor="middle">
        which body?
      </text>
    </g>
  );
}

function NoLens({ frame, seat, flange }: { frame: Frame; seat: number; flange: number }) {
  const barrel: Point[] = [
    [seat + 14, flange - 6],
    [seat + 14, flange],
    [seat + 24, flange],
    [seat + 24, flange + 3],
    [seat + 52, flange + 3],
    [seat + 52, 0],
  ];
  const [x, y] = place(frame, alongOf(frame, seat + 33), acrossOf(frame, 0));
  return (
    <g className="absent" data-absent="lens">
      {both(barrel).map((points, index) => (
        <path key={index} d={line(frame, points)} />
      ))}
      <path
        d={outline(frame, [
          [seat + 50, flange - 6],
          [seat + 46, flange - 6],
          [seat + 46, 6 - flange],
          [seat + 50, 6 - flange],
        ])}
      />
      <text x={x} y={y + 10} textAnchor="middle">
        which lens?
      </text>
    </g>
  );
}
