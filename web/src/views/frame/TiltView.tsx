import "./TiltView.css";

import type { FrameReport } from "../../api/client";
import { mm } from "../../parts/format";
import { word } from "../../parts/words";

const WIDTH = 460;
const HEIGHT = 220;
const LEFT = 46;

/** From the side, to scale: lens, hinge, the plane that is sharp, and the wedge of depth about it. */
export function TiltView({ report }: { report: FrameReport }) {
  const { hinge_mm: hinge, half_wedge_mm: wedge, tilt_deg: tilt } = report.tilt;
  const away = report.sharp_m ?? report.subject.distance_m;
  if (hinge === null) return null;
  // Down is where the hinge is when the lens is tilted down.
  const down = report.tilt.tilt_deg >= 0 ? 1 : -1;
  const tall = hinge / 1000 + Math.max(report.subject.lens_m, 0.5) + 0.5;
  const scale = Math.min((WIDTH - LEFT - 20) / away, (HEIGHT - 30) / (2 * tall));
  const middle = HEIGHT / 2;
  const x = (metres: number) => LEFT + metres * scale;
  const y = (metres: number) => middle - metres * scale;
  const below = (-down * hinge) / 1000;
  // The plane through the hinge and the point that is sharp on the axis.
  const heightAt = (metres: number, offset = 0) => below + ((offset - below) * metres) / away;
  const end = away * 1.25;
  const half = (wedge ?? 0) / 1000;
  const ground = -report.subject.lens_m;
  const wedgeOf = `M${x(0)} ${y(below)}L${x(end)} ${y(heightAt(end, half))}V${y(heightAt(end, -half))}Z`;
  const said =
    `${word("tilt")} ${tilt.toFixed(1)}° at the sensor; the plane that is sharp passes ` +
    `${mm(hinge / 1000)} m ${down > 0 ? "below" : "above"} the lens.`;
  return (
    <figure className="tilt-view">
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        role="img"
        aria-label={`From the side: the plane of focus turns ${mm(hinge, 0)} mm from the lens.`}
      >
        <path className="wedge" d={wedgeOf} />
        <path className="tilt-ground" d={`M0 ${y(ground)}H${WIDTH}`} />
        <path className="tilt-axis" d={`M8 ${middle}H${WIDTH}`} />
        <path className="plane" d={`M${x(0)} ${y(below)}L${x(end)} ${y(heightAt(end))}`} />
        <g transform={`rotate(${tilt} ${LEFT} ${middle})`}>
          <path className="tilt-lens" d={`M${LEFT} ${middle - 16}q7 16 0 32q-7 -16 0 -32Z`} />
        </g>
        <path className="tilt-sensor" d={`M${LEFT - 20} ${middle - 13}v26`} />
        <circle className="tilt-hinge" cx={x(0)} cy={y(below)} r="4" />
        <text x={x(0) + 8} y={y(below) + (down > 0 ? 14 : -8)}>{`hinge, ${mm(hinge / 1000)} m`}</text>
      </svg>
      <figcaption>
        {said}
        {wedge === null ? "" : ` At the subject it is ${mm((2 * wedge) / 1000)} m deep.`}
      </figcaption>
    </figure>
  );
}
