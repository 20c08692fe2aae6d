import "./Dimensions.css";

import { mm, shortened } from "../../parts/format";
import { alongOf, breadthOf, dot, type Frame, place } from "../scale";
import { adaptersOf, bodyOf, lensOf, type Scene } from "../scene";

interface Row {
  across: number;
  from: number;
  to: number;
  label: string;
  key: string;
}

/** What the lens needs, over what stands there: pieces and body. Names of the pieces below. */
export function Dimensions({
  scene,
  frame,
  below,
  named,
}: {
  scene: Scene;
  frame: Frame;
  below: boolean;
  named: boolean;
}) {
  const lens = scene.lens === null ? undefined : scene.pieces[scene.lens];
  const body = scene.body === null ? undefined : scene.pieces[scene.body];
  const seat = lensOf(scene)?.seat_mm;
  const bodySeat = bodyOf(scene)?.seat_mm;
  const adapters = adaptersOf(scene);
  const glass = adapters.some(({ piece }) => piece.optics !== "none");
  const [outer, inner] = frame.upright ? [17, 66] : below ? [frame.height - 10, frame.height - 34] : [18, 42];
  const rows: Row[] = [];
  if (lens?.register_mm && seat !== undefined && !glass) {
    const label = frame.upright ? `needs ${mm(lens.register_mm)}` : `the lens needs ${mm(lens.register_mm)}`;
    rows.push({ across: outer, from: seat, to: seat - lens.register_mm, label, key: "lens" });
  } else if (lens?.register_mm === null && seat !== undefined) {
    const label = frame.upright ? "needs: not known" : "what the lens needs is not known";
    rows.push({ across: outer, from: seat, to: 0, label, key: "lens" });
  }
  adapters.forEach(({ front, rear, piece }, index) =>
    rows.push({ across: inner, from: front, to: rear, label: mm(piece.length_mm ?? 0), key: String(index) }),
  );
  if (bodySeat !== undefined) {
    rows.push({
      across: inner,
      from: bodySeat,
      to: 0,
      label: body?.register_mm === null ? "not known" : mm(body?.register_mm ?? bodySeat),
      key: "body",
    });
  }
  if (below && frame.upright) return null;
  const thin = (row: Row) => alongOf(frame, row.to) - alongOf(frame, row.from) < (frame.upright ? 16 : 34);
  return (
    <g className="dimensions">
      {rows.map((row, index) => {
        const { across, from, to, label, key } = row;
        const [start, end] = [alongOf(frame, from), alongOf(frame, to)];
        const narrow = thin(row);
        // Thin pieces in a row stand their figures one below the other.
        const lower = narrow ? 15 * rows.slice(0, index).filter(thin).length : 0;
        const [x, y] = place(frame, (start + end) / 2, across);
        const turned = frame.upright && key === "lens";
        const text = frame.upright
          ? { x: x - 5, y: y + 4 + lower, textAnchor: turned ? ("middle" as const) : ("end" as const) }
          : narrow
            ? { x, y: y + (below ? -8 - lower : 20 + lower), textAnchor: "middle" as const }
            : { x, y: y - 5, textAnchor: "middle" as const };
        const reach = frame.upright ? frame.axis - breadthOf(frame) * 0.2 : frame.axis * 0.36;
        const rise = (along: number, to: number) => `M${dot(frame, along, across - 6)}L${dot(frame, along, to)}`;
        return (
          <g key={key} data-dimension={key} data-from={from} data-to={to}>
            <path
              className="extension"
              d={
                below
                  ? `M${dot(frame, start, across + 6)}L${dot(frame, start, frame.axis * 1.5)}`
                  : rise(start, Math.max(reach, across)) + rise(end, across + 8)
              }
            />
            <path d={`M${dot(frame, start, across)}L${dot(frame, end, across)}`} />
            <path
              d={[start, end]
                .map((along) => `M${dot(frame, along - 3, across + 3)}L${dot(frame, along + 3, across - 3)}`)
                .join("")}
              className="tick"
            />
            <text {...text} transform={turned ? `rotate(-90 ${x - 5} ${y})` : undefined}>
              {label}
            </text>
          </g>
        );
      })}
      {!frame.upright && named && <Names scene={scene} frame={frame} />}
    </g>
  );
}

// The size of .piece-name.
const NAME_PX = 14;

/** What the adapters are called: one line below the drawing, with a leader where there is one piece. */
function Names({ scene, frame }: { scene: Scene; frame: Frame }) {
  const adapters = adaptersOf(scene);
  const [first] = adapters;
  if (!first) return null;
  const seat = Math.max(lensOf(scene)?.seat_mm ?? 0, lensOf(scene)?.needed_seat_mm ?? 0);
  const x = alongOf(frame, seat) - 14;
  const y = frame.height - 7;
  const middle = alongOf(frame, (first.front + first.rear) / 2);
  return (
    <>
      {adapters.length === 1 && (
        <path className="leader" d={`M${middle} ${frame.axis + first.outer * 0.94 * frame.scale}V${y - 4}H${x + 4}`} />
      )}
      <text className="piece-name" x={x} y={y} textAnchor="end">
        {shortened(adapters.map(({ piece }) => piece.name).join("  +  "), (x - 8) / NAME_PX)}
      </text>
    </>
  );
}
