import { addressOf, type CameraReport, type CameraState } from "../../../api/client";
import type { CameraQuery } from "../../../api/queries";
import { Photo } from "../../../parts/Photo";

interface Props {
  state: CameraState;
  controls: CameraReport["controls"];
  query: CameraQuery;
}

// How far off the organ front stands; where the ring stood before; where the eye stops short.
const SUBJECT_M = 8;
const UNTOUCHED_M = 1.2;
const NEARLY_M = 6.8;

/** The picture that the rig makes as the camera stands: dark, squeezed, soft, as it would be taken. */
export function Finder({ state, controls, query }: Props) {
  const { attached } = state;
  if (!state.power) return <p className="finder-off">off</p>;
  if (!attached) return <p className="finder-off">the last lens is on it</p>;
  const wrong = new Set(state.finder.map(({ control }) => control));
  const asked = {
    ...query,
    scene: "nave",
    at_m: state.focused_with === "" ? UNTOUCHED_M : wrong.has("magnifier") ? NEARLY_M : SUBJECT_M,
    desqueeze: attached.squeeze !== 1 && state.squeeze === attached.squeeze,
    practice: { ...query.practice, use: state.use },
    rows: 300,
    ...(state.area === "full" ? {} : { mode: state.area }),
    ...(wrong.has("travel") ? { stray: state.travel } : {}),
    ...(attached.iris === "by_hand" && state.iris === "taking" ? { aperture: attached.taking_f_number } : {}),
  };
  const shakes = wrong.has("focal_length") || wrong.has("stabiliser");
  const bright = wrong.has("exposure") || wrong.has("meter");
  const times = state.magnifier;
  const classes = ["finder", shakes ? "shakes" : "", bright ? "bright" : "", state.peaking ? "peaking" : ""];
  const shape = (asked.desqueeze ? attached.squeeze : 1) * shapeOf(controls, state.area);
  const said = state.finder.map(({ text }) => text).join(" ");
  const photo = (
    <Photo
      one={{
        url: addressOf("/api/v1/frame/picture", asked),
        says: said || "The nave, as it will be taken",
        label: "",
      }}
      other={null}
      shape={shape}
      circleUnknown={attached.image_circle_mm === null}
    />
  );
  return (
    <div className={classes.join(" ")} data-finder={[...wrong].join(" ")} data-magnified={times}>
      <EdgesFilter />
      <div
        className={times > 0 && !controls.magnifier_inset ? "finder-whole magnified" : "finder-whole"}
        style={{ transform: times > 0 && !controls.magnifier_inset ? `scale(${times})` : undefined }}
      >
        {photo}
      </div>
      {times > 0 && controls.magnifier_inset && (
        <div className="finder-inset">
          <div style={{ transform: `scale(${times})` }}>{photo}</div>
        </div>
      )}
      {times > 0 && <span className="finder-told">{`${times} ×`}</span>}
      {state.peaking && <span className="finder-told peaked">peaking: edges, not focus</span>}
    </div>
  );
}

const shapeOf = (controls: CameraReport["controls"], area: string) =>
  controls.areas.find(({ name }) => name === area)?.shape ?? 1.5;

/** Marks whatever has an edge, sharp or not. */
function EdgesFilter() {
  return (
    <svg width="0" height="0" aria-hidden className="finder-filter">
      <filter id="finder-edges" colorInterpolationFilters="sRGB">
        <feColorMatrix type="saturate" values="0" result="grey" />
        <feConvolveMatrix
          in="grey"
          order="3"
          kernelMatrix="-1 -1 -1 -1 8 -1 -1 -1 -1"
          preserveAlpha="true"
          result="edges"
        />
        <feColorMatrix in="edges" values="0 0 0 0 0.95  0 0 0 0 0.25  0 0 0 0 0.15  5 5 5 0 -2.2" result="marks" />
        <feMerge>
          <feMergeNode in="SourceGraphic" />
          <feMergeNode in="marks" />
        </feMerge>
      </filter>
    </svg>
  );
}
