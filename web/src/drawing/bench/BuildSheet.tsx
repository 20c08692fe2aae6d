import type { Build, MountlessReport } from "../../api/benchQueries";
import { mm, shortened } from "../../parts/format";
import { Hatch } from "../Hatch";
import { Fitted } from "./Fitted";

interface Props {
  report: MountlessReport;
  build: Build;
  lensName: string;
  lensLengthMm: number;
  lensDiameterMm: number;
  sensorMm: number;
}

/** A lens without a mount before a body, with the pieces between its shoulder and the seat, to scale. */
export function BuildSheet(props: Props) {
  return (
    <Fitted className="build-sheet" label={props.report.says} height={(width) => (width < 640 ? 220 : 300)}>
      {(width, height) => <Drawn {...props} width={width} height={height} />}
    </Fitted>
  );
}

type DrawnProps = Props & { width: number; height: number };

function Drawn({ report, build, lensName, lensLengthMm, lensDiameterMm, sensorMm, width, height }: DrawnProps) {
  const long = report.shoulder_mm + Math.min(lensLengthMm, 90) + 14;
  const high = Math.max(lensDiameterMm, ...build.placed.map((one) => one.outer_mm ?? 60)) + 12;
  const scale = Math.min((width - 80) / long, (height - 64) / high);
  const axis = (height - 20) / 2;
  const x = (at: number) => (width + long * scale) / 2 - 7 * scale - at * scale;
  const box = (rear: number, front: number, low: number, up: number) =>
    [1, -1]
      .map((side) => {
        const [a, b] = [axis - side * (low / 2) * scale, axis - side * (up / 2) * scale];
        return `M${x(rear)} ${a}H${x(front)}V${b}H${x(rear)}Z`;
      })
      .join("");
  const solid = (rear: number, front: number, wide: number) =>
    `M${x(rear)} ${axis - (wide / 2) * scale}H${x(front)}V${axis + (wide / 2) * scale}H${x(rear)}Z`;
  const lensEnd = report.shoulder_mm + Math.min(lensLengthMm, 90);
  // Set for infinity: the helicoid has turned out by what its closed length is short of it.
  const travel = build.placed.reduce((sum, one) => sum + one.travel_mm, 0);
  const opened = Math.max(0, Math.min(travel, report.fill_mm + build.forward_mm - build.closed_mm - build.rest_mm));
  // Where it is held: at its shoulder, or so far before it as the barrel reaches in.
  const held = report.shoulder_mm + build.forward_mm;
  const inside = build.sleeve?.bore_mm ?? lensDiameterMm * 0.8;
  const half = sensorMm / 2;
  return (
    <>
      <Hatch id="bench-hatch" />
      <path
        className="build-cone"
        d={`M${x(report.shoulder_mm)} ${axis - inside * 0.42 * scale}L${x(0)} ${axis}L${x(report.shoulder_mm)} ${axis + inside * 0.42 * scale}Z`}
      />
      <path className="axis" d={`M8 ${axis}H${width - 10}`} />
      <path className="build-sensor" d={`M${x(0)} ${axis - half * scale}V${axis + half * scale}`} />
      <path className="bench-seat" d={`M${x(report.seat_mm)} ${axis - 34 * scale}V${axis + 34 * scale}`} />
      <text x={x(report.seat_mm)} y={height - 24} textAnchor="middle">
        mount face
      </text>
      {build.placed.map((one) => (
        <Piece key={one.piece} piece={one} opened={one.travel_mm > 0 ? opened : 0} box={box} />
      ))}
      {build.sleeve && (
        <path
          className="build-sleeve"
          data-sleeve={build.sleeve.into}
          d={box(held - 10, held, build.sleeve.bore_mm, build.sleeve.bore_mm + 2 * build.sleeve.wall_mm)}
        />
      )}
      <path className="bench-metal" fillOpacity={0.6} d={solid(report.shoulder_mm - 10, report.shoulder_mm, inside)} />
      <path className="bench-metal" fillOpacity={0.6} d={solid(report.shoulder_mm, lensEnd, lensDiameterMm)} />
      <path
        className="bench-plane"
        d={`M${x(report.shoulder_mm)} ${axis - (high / 2) * scale}V${axis + (high / 2) * scale}`}
      />
      <text x={x(report.shoulder_mm)} y={12} textAnchor="middle">
        {`shoulder, ${mm(report.shoulder_mm)} mm before the sensor`}
      </text>
      <text x={Math.max(12, x(lensEnd))} y={height - 6}>
        {shortened(lensName, 22)}
      </text>
      <path
        className="error-axis"
        d={`M${x(report.seat_mm)} ${height - 14}H${x(report.shoulder_mm)}M${x(report.seat_mm)} ${height - 18}v8M${x(report.shoulder_mm)} ${height - 18}v8`}
      />
      <text x={(x(report.seat_mm) + x(report.shoulder_mm)) / 2} y={height - 18} textAnchor="middle">
        {report.fill_mm > 0
          ? `${mm(report.fill_mm)} mm to fill`
          : `the shoulder ${mm(-report.fill_mm)} mm inside the mount face`}
      </text>
    </>
  );
}

interface PieceProps {
  piece: Build["placed"][number];
  opened: number;
  box: (rear: number, front: number, low: number, up: number) => string;
}

/** One piece cut open; what of it turns out, where it stands for infinity, and how far it goes on. */
function Piece({ piece, opened, box }: PieceProps) {
  const bore = piece.bore_mm ?? 40;
  const outer = piece.outer_mm ?? bore + 16;
  const cut = box(piece.rear_mm, piece.front_mm, bore, outer);
  return (
    <g data-build-piece={piece.piece} className={piece.made ? "build-rest" : piece.owned ? "" : "cut to-buy"}>
      <path className="bench-metal" d={cut} />
      <path className="bench-cut" d={cut} fill="url(#bench-hatch)" />
      {piece.travel_mm > 0 && (
        <>
          <path
            className="bench-metal"
            d={box(piece.front_mm, piece.front_mm + opened, (bore + outer) / 2, outer - 2)}
            data-opened={opened.toFixed(2)}
          />
          <path
            className="build-travel"
            d={box(piece.front_mm + opened, piece.front_mm + piece.travel_mm, (bore + outer) / 2, outer - 2)}
          />
        </>
      )}
    </g>
  );
}
