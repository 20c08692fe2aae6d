import "../../parts/Figure.css";

import { Link } from "react-router";

import type { End, MatchReport, Route } from "../../api/client";
import type { Chosen } from "../../app/practice";
import { longOf, wideOf } from "../../drawing/scene";
import { Figure } from "../../parts/Figure";
import { aperture, mm, percent, plain, shutter, signedMm, signedLength } from "../../parts/format";
import { rigPath } from "../../parts/rig";
import { word } from "../../parts/words";

interface Props {
  report: MatchReport;
  route: Route;
  practice: Chosen;
}

/** A value at the wide end and, for a zoom, at the long end. */
const ranged = (wide: string, long: string | undefined) => (long === undefined ? wide : `${wide} – ${long}`);

/** What to set on the camera, in large figures, and what the combination becomes. */
export function CameraFigures({ report, route, practice }: Props) {
  return (
    <>
      <h2>Set on the camera</h2>
      <Settings report={report} route={route} />
      <h2>What it becomes</h2>
      <Becomes report={report} route={route} practice={practice} />
      <p className="message-actions">
        <Link to={`${rigPath({ ...report, adapters: route.adapters }, "/frame")}&view=bodies`}>On every body</Link>
        <Link to={rigPath({ ...report, adapters: route.adapters }, "/frame")}>The picture</Link>
      </p>
    </>
  );
}

function Settings({ report, route }: Omit<Props, "practice">) {
  const { coverage } = route;
  const [wide, long] = [wideOf(route), longOf(route)];
  const { stabiliser } = wide;
  const full = coverage.whole;
  const entry = (end: typeof wide | null) => (end?.stabiliser ? String(end.stabiliser.entry_mm) : undefined);
  return (
    <div className="figures large-row">
      {stabiliser && (
        <Figure
          large
          of="stabiliser.entry_mm"
          label="focal length to enter"
          value={`${ranged(String(stabiliser.entry_mm), long ? (entry(long) ?? "") : undefined)} mm`}
        />
      )}
      {stabiliser?.travel_step != null && (
        <Figure
          large
          of={stabiliser.decided ? "stabiliser.travel_step" : "stabiliser.travel_fraction"}
          label={
            stabiliser.look_at_corners ? `${word("stabiliser_travel")}, look at the corners` : word("stabiliser_travel")
          }
          value={stabiliser.travel_step ? percent(stabiliser.travel_step) : "off"}
        />
      )}
      <Figure
        large
        of="f_number"
        label={word("effective_aperture")}
        value={
          wide.t_number === null
            ? ranged(aperture(wide.working_f_number), long ? aperture(long.working_f_number) : undefined)
            : `T/${plain(wide.t_number, "")}`
        }
      />
      <div className="figure large still">
        <span className="figure-value">{full ? "full" : coverage.mode}</span>
        <span className="figure-label">
          {full ? "sensor in use" : `mode in use, of ${report.pieces[report.body]?.name ?? "the body"}`}
        </span>
      </div>
    </div>
  );
}

function Becomes({ report, route, practice }: Props) {
  const [wide, long] = [wideOf(route), longOf(route)];
  const { equivalents } = wide;
  const steady = wide.steadied_shutter_s !== null;
  const angles = equivalents.angle_of_view_deg;
  const focal = ranged(plain(wide.focal_length_mm, ""), long ? plain(long.focal_length_mm, "") : undefined);
  const squeezed = equivalents.focal_horizontal_mm !== equivalents.focal_mm;
  const across = ranged(
    mm(equivalents.focal_horizontal_mm, 0),
    long ? mm(long.equivalents.focal_horizontal_mm, 0) : undefined,
  );
  const framing = ranged(mm(equivalents.focal_mm, 0), long ? mm(long.equivalents.focal_mm, 0) : undefined);
  return (
    <div className="figures">
      <Figure of="focal_length_mm" label="focal length" value={`${focal} mm`} />
      <Figure
        of="equivalents.crop_factor"
        label={practice.crop === "width" ? `${word("crop_factor")}, by width` : word("crop_factor")}
        value={`${mm(equivalents.crop_factor)} ×`}
      />
      {squeezed ? (
        <>
          <Figure
            of="equivalents.focal_horizontal_mm"
            label={`${word("full_frame_equivalent")}, across`}
            value={`${across} mm`}
          />
          <Figure
            of="equivalents.focal_mm"
            label={`${word("full_frame_equivalent")}, upright`}
            value={`${framing} mm`}
          />
        </>
      ) : (
        <Figure of="equivalents.focal_mm" label={word("full_frame_equivalent")} value={`${framing} mm`} />
      )}
      {practice.equivalence === "framing_and_depth" && (
        <Figure
          of="equivalents.f_number"
          label={`${word("depth_of_field")} as at`}
          value={aperture(equivalents.f_number)}
        />
      )}
      {angles && squeezed && (
        <Figure
          of="equivalents.angle_of_view_deg.horizontal"
          label="angle of view across"
          value={`${mm(angles.horizontal, 1)}°`}
        />
      )}
      {angles && (
        <Figure
          of="equivalents.angle_of_view_deg.diagonal"
          label={squeezed ? "angle of view, corners" : "angle of view"}
          value={`${mm(angles.diagonal, 1)}°`}
        />
      )}
      {wide.t_number !== null && (
        <Figure of="f_number" label="aperture, for depth" value={aperture(wide.working_f_number)} />
      )}
      <Figure of="light_change_stops" label={word("light_change")} value={signedMm(route.light_change_stops, 1)} />
      <Covered route={route} />
      <Figure
        of="circle_of_confusion_mm"
        label={word("circle_of_confusion")}
        value={`${mm(route.circle_of_confusion_mm, 4)} mm`}
      />
      <Figure
        of={steady ? "stabiliser.slowest_shutter_s" : "equivalents.slowest_shutter_s"}
        label={steady ? `${word("slowest_shutter")}, stabilised` : word("slowest_shutter")}
        value={`${ranged(slowest(wide), long ? slowest(long) : undefined)} s`}
      />
      <Figure of="gap_mm" label={word("gap")} value={signedLength(report.gap_mm)} />
    </div>
  );
}

/** The slowest shutter by hand: with the stabiliser only where it is on and knows what it steadies. */
const slowest = (end: End) => shutter(end.shutter_mark_s);

function Covered({ route }: { route: Route }) {
  const { coverage } = route;
  const circle = coverage.image_circle_mm;
  return (
    <>
      <Figure
        of="coverage.image_circle_mm"
        label={word("image_circle")}
        value={circle === null ? "unknown" : `${mm(circle, 1)} mm`}
      />
      {coverage.corner_margin_mm !== null && (
        <Figure
          of="coverage.corner_margin_mm"
          label={word("coverage_margin")}
          value={`${signedMm(coverage.corner_margin_mm)} mm`}
        />
      )}
      {coverage.shift_room_mm !== null ? (
        <Figure
          of="coverage.shift_room_mm"
          label={word("greatest_rise")}
          value={`${mm(coverage.shift_room_mm, 1)} mm`}
        />
      ) : (
        coverage.max_rise_mm !== null && (
          <Figure
            of="coverage.max_rise_mm"
            label={`${word("greatest_rise")}, by the circle`}
            value={`${mm(coverage.max_rise_mm, 1)} mm`}
          />
        )
      )}
      {coverage.corner_ray_angle_deg !== null && (
        <Figure
          of="coverage.corner_ray_angle_deg"
          label={word("corner_rays")}
          value={`${mm(coverage.corner_ray_angle_deg, 0)}°`}
        />
      )}
    </>
  );
}
