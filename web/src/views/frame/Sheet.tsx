import { useMemo, useState } from "react";
import { Link } from "react-router";

import type { FrameReport, MatchReport } from "../../api/client";
import { aperture, unbroken } from "../../parts/format";
import { CircleView, type Shift } from "./CircleView";
import { Controls } from "./Controls";
import { Outputs } from "./Outputs";
import { Photo } from "../../parts/Photo";
import { pictureOf, type Settings } from "./settings";
import type { useFrame } from "./useFrame";
import { choicesOf, Versus } from "./Versus";

interface Props {
  frame: ReturnType<typeof useFrame>;
  report: FrameReport;
  path: string;
  onSet: (change: Settings, replace?: boolean) => void;
  onVersus: (value: string | null) => void;
}

/** The picture, the circle beside it, and how the rig is set. */
export function Sheet({ frame, report, path, onSet, onVersus }: Props) {
  const [dragged, setDragged] = useState<Shift | null>(null);
  const { query, settings } = frame;
  const works = report.reason === "";
  // The address holds what the mechanism is set to; behind glass the sensor sees less of it, or more.
  const k = report.moving.find(({ shift_mm: shift }) => shift > 0)?.glass_behind ?? report.magnification;
  const set = [settings.sx, settings.sy].map((one) => (one === undefined ? undefined : Number(one)));
  const asked = set[0] !== undefined || set[1] !== undefined;
  const [across, up] = asked ? [(set[0] ?? 0) * k, (set[1] ?? 0) * k] : report.shift_set_mm;
  const wanted = useMemo<Shift>(() => [across, up], [across, up]);
  const onShift = (shift: Shift, settled: boolean) => {
    setDragged(settled ? null : shift);
    const [sx, sy] = shift.map((one) => String(Math.round((one / k) * 100) / 100));
    if (settled && sx !== undefined && sy !== undefined) onSet({ sx, sy }, true);
  };
  const shown = dragged ? { ...query, shift_x: dragged[0] / k, shift_y: dragged[1] / k } : query;
  const controls = <Controls report={report} settings={settings} onChange={onSet} />;
  return (
    <div className="sheet frame-sheet">
      <Head report={report} path={path} />
      {works && (
        <div className="frame-pictures">
          <div className="frame-picture">
            <Photo
              shape={shapeOf(report)}
              circleUnknown={report.image_circle_mm === null}
              onShown={frame.onDrawn}
              one={{
                url: pictureOf(shown, dragged ? 300 : 600),
                draft: pictureOf(shown, 300),
                says: `Illustration: ${report.sentence}`,
                label: aperture(report.f_number),
              }}
              other={otherOf(frame, report, frame.routes.data)}
            />
            <Caption report={report} />
          </div>
          <div className="frame-side">
            {controls}
            <CircleView report={report} shift={dragged ?? wanted} onShift={onShift} />
          </div>
        </div>
      )}
      {!works && controls}
      {works && (
        <div className="frame-controls">
          <Versus
            report={report}
            settings={settings}
            routes={frame.routes.data}
            natives={frame.natives}
            value={frame.against}
            onChange={onVersus}
          />
          <Outputs report={report} picture={pictureOf(query, 600)} />
        </div>
      )}
    </div>
  );
}

function otherOf(frame: Props["frame"], report: FrameReport, routes: MatchReport | undefined) {
  const { other, otherQuery, against, settings } = frame;
  if (other?.reason !== "" || !otherQuery) return null;
  const choice = choicesOf({ report, settings, routes, natives: frame.natives }).find(({ value }) => value === against);
  return {
    url: pictureOf(otherQuery, 600),
    draft: pictureOf(otherQuery, 300),
    says: `Illustration: ${other.sentence}`,
    label: choice?.label ?? "the other",
  };
}

const shapeOf = (report: FrameReport) => (report.width_mm * (report.desqueeze ? report.squeeze : 1)) / report.height_mm;

function Head({ report, path }: { report: FrameReport; path: string }) {
  const chain = report.adapters.map((id) => report.names[id] ?? id).join(" + ");
  return (
    <div className="screen-head" aria-live="polite">
      <h1>{unbroken(report.reason || report.sentence)}</h1>
      <p>
        <Link to={path}>{chain || "bare, without an adapter"}</Link>
      </p>
    </div>
  );
}

/** What the picture knows, and what it does not. */
function Caption({ report }: { report: FrameReport }) {
  const { known, assumed, left_out: leftOut } = report.caption;
  return (
    <div className="frame-caption">
      <p>{`An illustration, computed. ${leftOut.join(" ")}`}</p>
      <p>{known.join(" ")}</p>
      {assumed.length > 0 && (
        <p data-state="assumed">
          <strong>Assumed: </strong>
          {assumed.join(" ")}
        </p>
      )}
    </div>
  );
}
