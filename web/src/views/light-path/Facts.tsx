import type { Finding, FunctionLeft, MatchReport, Route } from "../../api/client";
import type { Chosen } from "../../app/practice";
import { useTicks } from "../../app/useTicks";
import { Figure } from "../../parts/Figure";
import { aperture, distance, fNumber, mm, percent, plain, signedMm } from "../../parts/format";

interface Props {
  report: MatchReport;
  route: Route;
  practice: Chosen;
}

/** The numbers of the strip, each with its working. */
export function StripFigures({ route, practice }: Props) {
  const { infinity, register_tolerance_mm: tolerance, focus } = route;
  return (
    <div className="figures" aria-label="Where the lens stands">
      <Figure of="register_error_mm" label="from where it should stand" value={`${signedMm(route.register_error_mm)} mm`} />
      <Figure of="register_tolerance_mm.worst_case" label="worst case" value={`±${mm(tolerance.worst_case)} mm`} />
      <Figure
        of="register_tolerance_mm.standard_uncertainty"
        label="uncertainty"
        value={`${mm(tolerance.standard_uncertainty, 3)} mm`}
      />
      <Figure
        of="infinity.from_f_number"
        label={practice.trust === "cautious" ? "infinity sharp from, cautious" : "infinity sharp from"}
        value={infinity.from_f_number === null ? "never" : fNumber(infinity.from_f_number)}
      />
      <Figure
        of="infinity.probability"
        label="probability, wide open"
        value={infinity.probability === null ? "unknown" : percent(infinity.probability)}
      />
      <Figure
        of="focus.near_mm"
        label="exact focus from"
        value={focus.near_mm === null ? "unknown" : distance(focus.near_mm, practice.distances)}
      />
      <Figure
        of="focus.far_mm"
        label="exact focus to"
        value={
          focus.state === "none" ? "nothing" : focus.far_mm === null ? "infinity" : distance(focus.far_mm, practice.distances)
        }
      />
      <Figure
        of="focus.max_magnification"
        label="largest on the sensor"
        value={focus.max_magnification === null ? "unknown" : `${mm(focus.max_magnification)} ×`}
      />
    </div>
  );
}

/** What to set on the camera, in large figures, and what the combination becomes. */
export function CameraFigures({ report, route, practice }: Props) {
  const { coverage, equivalents, stabiliser, long_end: long } = route;
  const tele = (value: string) => (long ? ` – ${value}` : "");
  const angles = equivalents.angle_of_view_deg;
  return (
    <>
      <h2>Set on the camera</h2>
      <div className="figures large-row">
        {stabiliser && (
          <Figure
            large
            of="stabiliser.entry_mm"
            label="focal length to enter"
            value={`${stabiliser.entry_mm}${tele(`${long?.stabiliser?.entry_mm ?? ""}`)} mm`}
          />
        )}
        {stabiliser?.travel_step != null && (
          <Figure
            large
            of="stabiliser.travel_step"
            label="stabiliser travel"
            value={stabiliser.travel_step ? percent(stabiliser.travel_step) : "off"}
          />
        )}
        <Figure large of="f_number" label="exposes as" value={`${aperture(route.working_f_number)}${tele(long ? aperture(long.working_f_number) : "")}`} />
        <div className="figure large still">
          <span className="figure-value">{coverage.mode === "full" ? "full" : coverage.mode}</span>
          <span className="figure-label">{coverage.mode === "full" ? "sensor in use" : `mode in use, of ${report.pieces[report.body]?.name ?? "the body"}`}</span>
        </div>
      </div>
      <h2>What it becomes</h2>
      <div className="figures">
        <Figure of="focal_length_mm" label="focal length" value={`${plain(route.focal_length_mm, "")}${tele(plain(long?.focal_length_mm ?? 0, ""))} mm`} />
        <Figure of="equivalents.crop_factor" label={practice.crop === "width" ? "crop factor, by width" : "crop factor"} value={`${mm(equivalents.crop_factor)} ×`} />
        <Figure of="equivalents.focal_mm" label="frames like" value={`${mm(equivalents.focal_mm, 0)}${tele(mm(long?.equivalents.focal_mm ?? 0, 0))} mm`} />
        {practice.equivalence === "framing_and_depth" && (
          <Figure of="equivalents.f_number" label="depth of field like" value={aperture(equivalents.f_number)} />
        )}
        {angles && (
          <Figure of="equivalents.angle_of_view_deg.diagonal" label="angle of view" value={`${mm(angles.diagonal, 1)}°`} />
        )}
        <Figure of="light_change_stops" label="stops of light" value={signedMm(route.light_change_stops, 1)} />
        <Figure
          of="coverage.image_circle_mm"
          label="image circle"
          value={coverage.image_circle_mm === null ? "unknown" : `${mm(coverage.image_circle_mm, 1)} mm`}
        />
        {coverage.corner_margin_mm !== null && (
          <Figure of="coverage.corner_margin_mm" label="room at the corner" value={`${signedMm(coverage.corner_margin_mm)} mm`} />
        )}
        {coverage.max_rise_mm !== null && (
          <Figure of="coverage.max_rise_mm" label="room to shift up" value={`${mm(coverage.max_rise_mm, 1)} mm`} />
        )}
        {coverage.corner_ray_angle_deg !== null && (
          <Figure of="coverage.corner_ray_angle_deg" label="rays at the corner" value={`${mm(coverage.corner_ray_angle_deg, 0)}°`} />
        )}
        <Figure of="circle_of_confusion_mm" label="blur that passes" value={`${mm(route.circle_of_confusion_mm, 4)} mm`} />
        <Figure of="equivalents.slowest_shutter_s" label="slowest by hand" value={shutter(equivalents.slowest_shutter_s)} />
        <Figure of="gap_mm" label="room between registers" value={`${signedMm(report.gap_mm)} mm`} />
      </div>
    </>
  );
}

const shutter = (seconds: number) => (seconds >= 0.4 ? `${mm(seconds, 1)} s` : `1/${Math.round(1 / seconds)} s`);

export const FUNCTION_NAMES: Record<string, string> = {
  autofocus: "Autofocus",
  manual_focus: "Focus by hand",
  aperture: "Aperture",
  identity: "Lens data",
  focal_length: "Focal length",
  focus_distance: "Focus distance",
  stabiliser: "Stabiliser in the lens",
  control_ring: "Control ring",
  aperture_readout: "Aperture read-out",
  open_aperture_metering: "Metering with the iris open",
  exposure_modes: "Exposure modes",
  automatic_magnifier: "Magnifier by itself",
  automatic_crop: "Crop by itself",
};

export const STATE_WORDS: Record<FunctionLeft["state"], string> = {
  full: "works",
  slow: "works, slowly",
  by_hand: "by hand",
  entered: "entered by hand",
  lost: "lost",
  stuck: "stuck",
};

/** Functions kept, by hand, lost, and by which link. */
export function Functions({ report, route }: { report: MatchReport; route: Route }) {
  const modes = route.exposure_modes;
  return (
    <section>
      <h2>Functions</h2>
      <ul className="functions">
        {route.functions.map(({ function: name, state, link, passed, offered, taken }) => (
          <li key={name} className={`function ${state}`} data-function={name}>
            <span>{FUNCTION_NAMES[name] ?? name}</span>
            <span className="function-state">
              {STATE_WORDS[state]}
              {name === "exposure_modes" && modes.length > 0 ? ` (${modes.join(", ")})` : ""}
            </span>
            <span
              className="function-link"
              title={[
                offered ? "the lens offers it" : "the lens does not offer it",
                ...passed.map((one) => `${report.pieces[one.link]?.name ?? one.link} passes it: ${one.level}`),
                taken ? "the body takes it" : "the body does not take it",
              ].join("; ")}
            >
              {link && state !== "full" ? `at ${report.pieces[link]?.name ?? link}` : ""}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** What the joints bear and how far they give, and what can be set in the chain. */
export function Joints({ report, route, units }: { report: MatchReport; route: Route; units: "metric" | "imperial" }) {
  const name = (id: string) => report.pieces[id]?.name ?? id;
  const near = (value: number | null) => (value === null ? "unknown" : distance(value, units));
  return (
    <section>
      <h2>Joints and settings</h2>
      <table className="depths joints">
        <tbody>
          {route.loads.map((load, index) => (
            <tr key={load.link}>
              <th scope="row">{`Pull on ${name(load.link)}`}</th>
              <td>
                <Figure of={`joint ${index + 1}.loads.moment_nm`} label={load.rating_nm === null ? "no rating known" : `rated for ${mm(load.rating_nm)} N·m`} value={`${mm(load.moment_nm)} N·m`} />
              </td>
            </tr>
          ))}
          <tr>
            <th scope="row">Play of all joints</th>
            <td>
              <Figure
                of="play.displacement_mm"
                label={`${percent(route.play.fraction_of_window)} of the depth of focus`}
                value={`${mm(route.play.displacement_mm)} mm`}
              />
            </td>
          </tr>
          {route.ranges.map((range) => (
            <tr key={range.link}>
              <th scope="row">{name(range.link)}</th>
              <td>
                {range.kind === "helicoid"
                  ? `${range.for_infinity_mm === null ? "no infinity" : range.for_infinity_mm === 0 ? "closed for infinity" : `open by ${mm(range.for_infinity_mm)} mm for infinity`}; near limit ${near(range.near_closed_mm)} closed, ${near(range.near_open_mm)} open`
                  : range.positions.join(", ")}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {route.loads.length === 0 && <p>The pull on the joints is not assessed: a mass is not known.</p>}
    </section>
  );
}

const SEVERITY_WORDS: Record<Finding["severity"], string> = {
  danger: "Danger",
  caution: "Caution",
  limit: "Limit",
  info: "Note",
};

/** What was found, danger first. */
export function Findings({ route }: { route: Route }) {
  return (
    <section>
      <h2>Found</h2>
      {route.findings.length === 0 && <p>Nothing stands against it.</p>}
      <ul className="findings">
        {route.findings.map((finding) => (
          <li key={`${finding.code} ${finding.link ?? ""} ${finding.text}`} className={finding.severity} data-code={finding.code}>
            <strong>{SEVERITY_WORDS[finding.severity]}</strong> {finding.text}
          </li>
        ))}
      </ul>
    </section>
  );
}

/** What to do, in order, to be ticked off; the ticks stay with this browser. */
export function Steps({ report, route }: { report: MatchReport; route: Route }) {
  const [done, toggle, clear] = useTicks(`${report.lens} ${report.body} ${route.adapters.join(",")}`);
  return (
    <section className="steps-section">
      <h2>
        {route.grade === "danger" ? "Before anything else" : "Steps"}
        {done.size > 0 && (
          <button type="button" className="unfold" onClick={clear}>
            {`${done.size} of ${route.steps.length} done, begin again`}
          </button>
        )}
      </h2>
      <ol className="steps">
        {route.steps.map((step, index) => (
          <li key={step.text} className={`${step.caution ? "caution" : ""} ${done.has(step.text) ? "done" : ""}`}>
            <label>
              <input
                type="checkbox"
                checked={done.has(step.text)}
                onChange={() => {
                  toggle(step.text);
                }}
              />
              <span className="step-number">{index + 1}</span>
              <span>{step.text}</span>
            </label>
          </li>
        ))}
      </ol>
    </section>
  );
}

/** Depth of field at a few distances, wide open. */
export function DepthOfField({ route, practice }: { route: Route; practice: Chosen }) {
  const first = route.depth_of_field[0];
  if (!first) return null;
  return (
    <section>
      <h2>{`Depth of field at ${fNumber(first.f_number)} on the ring`}</h2>
      <table className="depths">
        <thead>
          <tr>
            <th scope="col">focused at</th>
            <th scope="col">from</th>
            <th scope="col">to</th>
          </tr>
        </thead>
        <tbody>
          {route.depth_of_field.map((depth) => (
            <tr key={depth.subject_mm}>
              <td>{distance(depth.subject_mm, practice.distances)}</td>
              <td>{distance(depth.near_mm, practice.distances)}</td>
              <td>{depth.far_mm === null ? "infinity" : distance(depth.far_mm, practice.distances)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
