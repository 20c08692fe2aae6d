import "./BalanceSheet.css";

import type { SetUp } from "../api/client";
import { mm } from "../parts/format";
import { useWidth } from "../parts/useWidth";
import { alongOf, type Frame, frameFor } from "./scale";
import type { Scene } from "./scene";
import { Section } from "./section/Section";

// Under the section: what holds it, how far from there it balances, and the joints.
const BELOW = 132;

interface Props {
  scene: Scene;
  balance: SetUp["balance"];
  names: SetUp["names"];
  sentence: string;
}

/** The rig cut open, on what holds it: where it balances, and how much of its rating each joint bears. */
export function BalanceSheet({ scene, balance, names, sentence }: Props) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const narrow = width < 700;
  const height = narrow ? 230 : 330;
  return (
    <div className="balance-sheet" ref={ref}>
      {width > 0 && (
        <Drawing
          {...{ scene, balance, names, sentence }}
          frame={frameFor(scene, {
            width,
            height,
            upright: false,
            behind: width * (narrow ? 0.42 : 0.36),
            ahead: width * (narrow ? 0.04 : 0.16),
            slack: width * 0.02,
            margin: 36,
            offset: 14,
            halved: false,
          })}
        />
      )}
    </div>
  );
}

function Drawing({ scene, balance, names, sentence, frame }: Props & { frame: Frame }) {
  const { width, height } = frame;
  const ground = height + 34;
  const held = alongOf(frame, balance.held_by.at_mm);
  const centre = balance.centre_of_mass_mm === null ? null : alongOf(frame, balance.centre_of_mass_mm);
  return (
    <svg
      width={width}
      height={height + BELOW}
      viewBox={`0 0 ${width} ${height + BELOW}`}
      role="img"
      aria-label={sentence}
    >
      <Section scene={scene} frame={frame} lightFrom={0} />
      <path className="balance-ground" d={`M12 ${ground + 15}H${width - 12}`} />
      <path className="balance-support" d={`M${held} ${ground - 7}l-12 22h24z`} data-held={balance.held_by.at_mm} />
      {centre !== null && (
        <g className="balance-centre" data-centre={balance.centre_of_mass_mm}>
          <path className="balance-plumb" d={`M${centre} ${frame.axis}V${ground}`} />
          {/* A disc in quarters: where the whole weighs. */}
          <circle cx={centre} cy={frame.axis} r="9" />
          <path
            d={`M${centre} ${frame.axis}v-9a9 9 0 0 1 9 9zM${centre} ${frame.axis}v9a9 9 0 0 1 -9 -9z`}
            className="balance-quarters"
          />
          <path className="balance-arm" d={`M${held} ${ground}H${centre}`} />
          <text x={(held + centre) / 2} y={ground - 5} textAnchor="middle">
            {`${mm(Math.abs((balance.centre_of_mass_mm ?? 0) - balance.held_by.at_mm), 0)} mm`}
          </text>
        </g>
      )}
      {spread(balance.joints.map(({ at_mm: at }) => alongOf(frame, at))).map((x, index) => {
        const joint = balance.joints[index];
        return joint ? (
          <Gauge key={index} x={x} from={alongOf(frame, joint.at_mm)} top={ground + 28} joint={joint} />
        ) : null;
      })}
      <text className="balance-held" x={12} y={ground + 10}>
        {`held by ${names[balance.held_by.link] ?? balance.held_by.link}`}
      </text>
    </svg>
  );
}

const GAUGE = { width: 14, height: 46, apart: 66 };

/** Gauges of joints that lie close stand side by side. */
function spread(places: readonly number[]): number[] {
  const found: number[] = [];
  for (const place of places) {
    const last = found.at(-1);
    found.push(last === undefined ? place : Math.max(place, last + GAUGE.apart));
  }
  return found;
}

interface GaugeProps {
  x: number;
  from: number;
  top: number;
  joint: SetUp["balance"]["joints"][number];
}

/** How much of its rating a joint bears: full to the line is as much as it may. */
function Gauge({ x, from, top, joint }: GaugeProps) {
  const { moment_nm: moment, rating_nm: rating, supported } = joint;
  const share = moment === null || rating === null ? null : moment / rating;
  const filled = Math.min(share ?? 0, 1.25) / 1.25;
  const line = top + GAUGE.height * 0.2;
  return (
    <g className={joint.over ? "gauge over" : "gauge"} data-joint={joint.joint} data-share={share?.toFixed(3)}>
      <path className="gauge-lead" d={`M${from} ${top - 12}L${x} ${top - 2}`} />
      <rect
        className="gauge-fill"
        x={x - GAUGE.width / 2}
        y={top + GAUGE.height * (1 - filled)}
        width={GAUGE.width}
        height={GAUGE.height * filled}
      />
      <rect x={x - GAUGE.width / 2} y={top} width={GAUGE.width} height={GAUGE.height} />
      <path className="gauge-most" d={`M${x - 12} ${line}h24`} />
      <text x={x} y={top + GAUGE.height + 16} textAnchor="middle">
        {supported ? "held" : moment === null ? "?" : moment.toFixed(2)}
      </text>
    </g>
  );
}
