import "./Section.css";

import { useId } from "react";

import { breadthOf, type Frame, lengthOf, place } from "../scale";
import { adaptersOf, lensOf, type Scene } from "../scene";
import { AdapterCut } from "./AdapterCut";
import { Apart } from "./Apart";
import { BodyCut, SensorLine } from "./BodyCut";
import { Clash } from "./Clash";
import { Dimensions } from "./Dimensions";
import { EndView } from "./EndView";
import { LensCut } from "./LensCut";
import { Light } from "./Light";
import { Movements } from "./Movements";
import { Wire } from "./Wire";

interface Props {
  scene: Scene;
  frame: Frame;
  /** Where the light fades in, in pixels along the axis: the sentence ends before it. */
  lightFrom: number;
  /** Only the half above or below the axis, where two routes are compared. */
  half?: "upper" | "lower" | undefined;
}

/**
 * The rig cut open through the sensor's diagonal, to scale. Metal hatched, light warm, contacts as a wire.
 */
export function Section({ scene, frame, lightFrom, half }: Props) {
  const id = useId().replace(/[^a-zA-Z0-9]/g, "");
  const adapters = adaptersOf(scene);
  const hatch = (index: number) => `url(#${id}h${index % 2})`;
  const danger = scene.route?.grade === "danger";
  const front = lensOf(scene)?.front_mm ?? 60;
  const from = Math.max(lightFrom, frame.sensor - (front - frame.removed) * frame.scale - 380);
  return (
    <g className={`section ${frame.upright ? "upright" : "lying"}`} data-scale={frame.scale} data-sensor={frame.sensor}>
      <defs>
        {[45, -45].map((angle, index) => (
          <pattern
            key={angle}
            id={`${id}h${index}`}
            width="5"
            height="5"
            patternUnits="userSpaceOnUse"
            patternTransform={`rotate(${angle})`}
          >
            <rect width="5" height="5" className="metal" />
            <path d="M0 2.5H5" className="hatch" />
          </pattern>
        ))}
        <linearGradient
          id={`${id}b`}
          gradientUnits="userSpaceOnUse"
          {...gradientAlong(frame, from, frame.sensor - (front - frame.removed) * frame.scale)}
        >
          <stop offset="0" className="beam-far" />
          <stop offset="1" className="beam-near" />
        </linearGradient>
        <clipPath id={`${id}c`}>
          <rect {...halfOf(frame, half)} />
        </clipPath>
      </defs>
      <g clipPath={`url(#${id}c)`}>
        <path
          className="axis"
          d={`M${place(frame, from, frame.axis).join(" ")}L${place(frame, lengthOf(frame), frame.axis).join(" ")}`}
        />
        {scene.body === null && <Apart scene={scene} frame={frame} hatch={hatch(0)} />}
        {scene.lens !== null && !danger && <Light scene={scene} frame={frame} from={from} fill={`url(#${id}b)`} />}
        {scene.body !== null && <BodyCut scene={scene} frame={frame} hatch={hatch(0)} />}
        {adapters.map((adapter, index) => (
          <AdapterCut key={index} frame={frame} adapter={adapter} hatch={hatch(adapters.length - index)} />
        ))}
        {scene.lens !== null && <LensCut scene={scene} frame={frame} hatch={hatch(adapters.length + 1)} />}
        {scene.body !== null && (scene.route === null || scene.lens === null) && (
          <Apart scene={scene} frame={frame} hatch={hatch(1)} />
        )}
        {scene.route && <Movements scene={scene} frame={frame} />}
        {scene.route && !danger && <Wire scene={scene} frame={frame} side={half === "upper" ? 1 : -1} />}
        <SensorLine scene={scene} frame={frame} />
        {scene.body !== null && !frame.upright && !half && <EndView scene={scene} frame={frame} />}
        {scene.route && !half && <Clash scene={scene} frame={frame} hatch={[hatch(0), hatch(1)]} />}
      </g>
      <Dimensions scene={scene} frame={frame} below={half === "lower"} named={!half} />
      {half !== "lower" && <ScaleBar frame={frame} />}
      <desc>{`Scale ${frame.scale} pixels to a millimetre; sensor plane at ${frame.sensor}`}</desc>
    </g>
  );
}

/** The upper half is where r > 0: above the axis when lying, to its right when upright. */
const halfOf = ({ width, height, axis, upright }: Frame, half: "upper" | "lower" | undefined) => {
  if (!half) return { x: 0, y: 0, width, height };
  const first = { x: 0, y: 0, width: upright ? axis : width, height: upright ? height : axis };
  const second = upright
    ? { x: axis, y: 0, width: width - axis, height }
    : { x: 0, y: axis, width, height: height - axis };
  return (half === "upper") === upright ? second : first;
};

const gradientAlong = (frame: Frame, from: number, to: number) => {
  const [x1, y1] = place(frame, from, 0);
  const [x2, y2] = place(frame, Math.max(to, from + 1), 0);
  return { x1, y1, x2, y2 };
};

function ScaleBar({ frame }: { frame: Frame }) {
  const x = frame.upright ? 14 : frame.width - 12 - 10 * frame.scale;
  const y = frame.height - 8;
  if (frame.upright && breadthOf(frame) < 200) return null;
  return (
    <g className="scale-bar">
      <path d={`M${x} ${y - 4}v4h${10 * frame.scale}v-4`} />
      <text x={x + 5 * frame.scale} y={y - 7} textAnchor="middle">
        10 mm
      </text>
    </g>
  );
}
