import "./practice.css";

import type { ShownOf } from "../../api/exerciseQueries";

/** What is printed on a ring, on its rim. */
export function LabelDrawn({ shown, described }: { shown: ShownOf<"label">; described: string }) {
  const size = Math.min(26, 900 / Math.max(shown.text.length, 1));
  return (
    <svg className="practice-drawing" viewBox="0 0 640 190" role="img" aria-label={described}>
      <path className="label-rim" d="M40 132c0 -52 560 -52 560 0v22c0 -52 -560 -52 -560 0z" />
      <rect className="label-paper" x="34" y="18" width="572" height="66" rx="3" />
      <text className="label-words" x="320" y={51 + size * 0.35} textAnchor="middle" style={{ fontSize: size }}>
        {shown.text}
      </text>
      <path className="label-thread" d="M320 84v24" />
    </svg>
  );
}

/** A thread under the jaws, its crests to be counted. */
export function CrestsDrawn({ shown, described }: { shown: ShownOf<"crests">; described: string }) {
  const step = 520 / (shown.crests - 1);
  const at = (index: number) => 60 + index * step;
  const crests = Array.from({ length: shown.crests }, (_, index) => index);
  const flanks = crests.map((index) => `L${at(index) - step / 2} 142L${at(index)} 112`).join("");
  return (
    <svg className="practice-drawing" viewBox="0 0 640 190" role="img" aria-label={described}>
      <path
        className="crests-metal"
        d={`M${at(0) - step} 176V112${flanks}L${at(shown.crests - 1) + step / 2} 142V176Z`}
      />
      <path className="caliper-jaw" d={`M${at(0) - 8} 20h8v88l-8 -22zM${at(shown.crests - 1)} 20h8v66l-8 22z`} />
      <path className="crests-length" d={`M${at(0)} 44H${at(shown.crests - 1)}`} />
      <text x="320" y="36" textAnchor="middle">{`${shown.length_mm.toFixed(2)} mm`}</text>
      <text className="practice-small" x={at(0)} y="188" textAnchor="middle">
        1
      </text>
      <text className="practice-small" x={at(shown.crests - 1)} y="188" textAnchor="middle">
        {shown.crests}
      </text>
    </svg>
  );
}

/** Light and dark fields on a flange, as it is looked at. */
export function FieldsDrawn({ shown, described }: { shown: ShownOf<"fields">; described: string }) {
  const [cx, cy, from, to] = [160, 150, 88, 122] as const;
  const point = (radius: number, degrees: number) => {
    const angle = (degrees * Math.PI) / 180;
    return `${(cx + radius * Math.sin(angle)).toFixed(2)} ${(cy - radius * Math.cos(angle)).toFixed(2)}`;
  };
  const half = shown.fields.length > 1 ? Math.abs((shown.fields[1]?.[0] ?? 0) - (shown.fields[0]?.[0] ?? 0)) * 0.42 : 4;
  const [first] = shown.fields[0] ?? [0, false];
  return (
    <svg className="practice-drawing fields-drawn" viewBox="0 0 320 300" role="img" aria-label={described}>
      <circle className="fields-flange" cx={cx} cy={cy} r="130" />
      <circle className="fields-bore" cx={cx} cy={cy} r="80" />
      <path className="fields-index" d={`M${cx} ${cy - 144}l-7 -6h14zM${cx} ${cy - 130}v14`} />
      {shown.fields.map(([angle, dark], index) => (
        <path
          key={index}
          className={dark ? "field-dark" : "field-light"}
          data-dark={dark}
          d={`M${point(from, angle - half)}L${point(to, angle - half)}L${point(to, angle + half)}L${point(from, angle + half)}Z`}
        />
      ))}
      <text
        className="practice-small"
        x={point(52, first).split(" ")[0]}
        y={point(52, first).split(" ")[1]}
        textAnchor="middle"
      >
        begins
      </text>
    </svg>
  );
}

interface CircleProps {
  shown: ShownOf<"circle">;
  described: string;
  /** How far up the frame stands, in mm: what is right, and what was chosen. */
  up?: readonly number[];
}

/** An image circle about the formats of a sensor, to scale. */
export function CircleDrawn({ shown, described, up = [] }: CircleProps) {
  const widest = Math.max(shown.circle_mm, ...shown.formats_mm.map(([w, h]) => Math.hypot(w, h)));
  const scale = 270 / widest;
  return (
    <svg className="practice-drawing" viewBox="0 0 420 300" role="img" aria-label={described}>
      <circle className="image-circle" cx="150" cy="150" r={(shown.circle_mm / 2) * scale} />
      {shown.formats_mm.map(([w, h]) => {
        const [across, up] = shown.upright ? [h, w] : [w, h];
        return (
          <rect
            key={`${w} ${h}`}
            className="circle-format"
            x={150 - (across / 2) * scale}
            y={150 - (up / 2) * scale}
            width={across * scale}
            height={up * scale}
          />
        );
      })}
      {up.map((mm, index) => {
        const [w = 0, h = 0] = shown.formats_mm[0] ?? [];
        const [across, high] = shown.upright ? [h, w] : [w, h];
        return (
          <rect
            key={index}
            className={index === 0 ? "circle-shifted" : "circle-shifted chosen"}
            data-up={mm}
            x={150 - (across / 2) * scale}
            y={150 - (high / 2 + mm) * scale}
            width={across * scale}
            height={high * scale}
          />
        );
      })}
      <path className="bench-bar" d={`M320 268v6h${10 * scale}v-6`} />
      <text x={320 + 5 * scale} y={262} textAnchor="middle">
        10 mm
      </text>
    </svg>
  );
}

/** A round thing as it came out, beside how it is. */
export function SqueezedDrawn({ shown, described }: { shown: ShownOf<"squeezed">; described: string }) {
  return (
    <svg className="practice-drawing" viewBox="0 0 420 250" role="img" aria-label={described}>
      <rect className="squeezed-frame" x="20" y="25" width="300" height="200" />
      <ellipse className="squeezed-thing" cx="170" cy="125" rx={78 * shown.wide} ry={78 * shown.high} />
      <path
        className="squeezed-thing"
        d={`M170 ${125 - 78 * shown.high}v${156 * shown.high}M${170 - 78 * shown.wide} 125h${156 * shown.wide}`}
      />
      <circle className="squeezed-real" cx="372" cy="125" r="28" />
      <path className="squeezed-real" d="M372 97v56M344 125h56" />
      <text className="practice-small" x="372" y="176" textAnchor="middle">
        as it is
      </text>
    </svg>
  );
}
