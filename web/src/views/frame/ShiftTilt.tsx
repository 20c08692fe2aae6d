import "./ShiftTilt.css";

import type { FrameReport } from "../../api/client";
import { mm } from "../../parts/format";
import { capital, headed, word } from "../../parts/words";
import type { Settings } from "./settings";
import { TiltView } from "./TiltView";
import { Plain } from "../../parts/Plain";

const degrees = (value: number) => `${value.toFixed(1)}°`;

interface Props {
  report: FrameReport;
  onChange: (change: Settings) => void;
}

/** What a tall subject asks for, what allows it, and what a tilt does to the plane that is sharp. */
export function ShiftTilt({ report, onChange }: Props) {
  return (
    <section>
      <h2>{`${headed("shift")} and ${word("tilt")}`}</h2>
      {report.no_room && <p data-state="no-room">{report.no_room}</p>}
      <Mechanism report={report} />
      {report.scene === "facade" && <Tall report={report} onChange={onChange} />}
      <Stitched report={report} />
      {report.tilt.hinge_mm !== null && <TiltView report={report} />}
    </section>
  );
}

/** Which piece moves, and what to do about it. */
function Mechanism({ report }: { report: FrameReport }) {
  if (report.moving.length === 0) return null;
  return (
    <ul className="moving bulleted">
      {report.moving.map((one) => (
        <li key={one.link}>
          {[
            one.shift_mm ? `shifts by ${mm(one.shift_mm, 1)} mm at the sensor` : "",
            one.tilt_deg ? `tilts by ${degrees(one.tilt_deg)}` : "",
          ]
            .filter(Boolean)
            .join(" and ")
            .replace(/^/, `${one.name} `)}
          {". Set it to zero and lock it before you focus; then loosen, move, and lock it again."}
        </li>
      ))}
    </ul>
  );
}

function Tall({ report, onChange }: Props) {
  const { shift, subject } = report;
  const wanted = Math.max(0, shift.rise_wanted_mm);
  const inMode = report.modes.find(({ in_use }) => in_use);
  const helps = report.modes.filter(
    (mode) => !mode.in_use && mode.rise_mm !== null && inMode?.rise_mm != null && mode.rise_mm > inMode.rise_mm,
  );
  const facts: [string, string][] = [
    ["rise wanted", wanted > 0 ? `${mm(wanted, 1)} mm` : "none: the top is in the frame"],
    ["the circle allows", shift.rise_allowed_mm === null ? "not known" : `${mm(shift.rise_allowed_mm, 1)} mm`],
    ["the mechanism goes", report.rise_mechanism_mm > 0 ? `${mm(report.rise_mechanism_mm, 1)} mm` : "nothing shifts"],
    ["set", `${mm(Math.hypot(...report.shift_set_mm), 1)} mm`],
    ["camera pitched up by", degrees(shift.pitch_deg)],
    ["verticals converge by", degrees(shift.convergence_deg)],
  ];
  const height = `${subject.height_m} m high, ${subject.distance_m} m away`;
  return (
    <>
      <h3>{`A front ${height}`}</h3>
      <dl className="frame-facts">
        {facts.map(([what, value]) => (
          <div key={what} data-fact={what}>
            <dt>{what}</dt>
            <dd>{value}</dd>
          </div>
        ))}
      </dl>
      {shift.diverging && (
        <p role="note">Corrected too far: the verticals part upwards, which looks worse than leaning in.</p>
      )}
      {!shift.both && (
        <p role="note">Top and foot do not fit into the frame together: step back, or take a shorter lens.</p>
      )}
      {wanted > 0 && helps.length > 0 && (
        <ul className="bulleted">
          {helps.map((mode) => (
            <li key={mode.name}>
              <Plain className="unfold" onClick={() => onChange({ mode: mode.name })}>
                {mode.name}
              </Plain>
              {` buys ${mm((mode.rise_mm ?? 0) - (inMode?.rise_mm ?? 0), 1)} mm of rise${
                mode.costs_megapixels ? `, costs ${mm(mode.costs_megapixels, 0)} MP` : ""
              }.`}
            </li>
          ))}
        </ul>
      )}
    </>
  );
}

function Stitched({ report }: { report: FrameReport }) {
  const { stitch } = report;
  if (!stitch) return null;
  const inside =
    stitch.inside === null
      ? "whether the circle holds them is not known"
      : stitch.inside
        ? "every position lies within the circle"
        : "the outer positions leave the circle";
  const pixels = stitch.megapixels === null ? "" : `, ${mm(stitch.megapixels, 0)} MP`;
  return (
    <p data-fact="stitch">
      {capital(
        `stitched from ${mm(-stitch.shift_mm, 1)}, 0 and +${mm(stitch.shift_mm, 1)} mm: ${mm(stitch.width_mm, 1)} mm wide${pixels}, ${degrees(stitch.angle_deg)}, ${Math.round(stitch.overlap * 100)} % overlap; ${inside}.`,
      )}
    </p>
  );
}
