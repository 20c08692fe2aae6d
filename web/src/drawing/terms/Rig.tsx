import type { ReactNode } from "react";

/** Where the seats and the sensor stand in every one of these drawings, in its own units. */
export const SEAT = { lens: 122, body: 164 } as const;
export const SENSOR = 214;

interface Props {
  /** Only the room where an adapter would be. */
  ghost?: boolean;
  /** The adapter is what is meant. */
  ring?: boolean;
  /** The lens on its own mount, no adapter. */
  own?: boolean;
  /** The rear of the lens is what is meant. */
  rear?: boolean;
  light?: boolean;
  /** The lens moved along, raised across, turned. */
  moved?: number;
  raised?: number;
  turned?: number;
  children?: ReactNode;
}

/** A lens, an adapter and a body, cut open: the same in every drawing of a term. */
export function Rig(props: Props) {
  const { ghost, ring, own, rear, light, moved = 0, raised = 0, turned = 0, children } = props;
  const along = moved + (own ? SEAT.body - SEAT.lens : 0);
  return (
    <Drawn>
      <path className="term-body" d={`M${SEAT.body} 28h6v-8h62v92h-62v-8h-6V96h8v-60h-8z`} />
      <path className="term-room" d={`M${SEAT.body + 8} 36h46v60h-46z`} />
      <path className="term-sensor" d={`M${SENSOR} 40v52`} />
      {!own && (
        <path
          className={ghost ? "term-ghost" : ring ? "term-part meant" : "term-part"}
          d={`M${SEAT.lens} 30h${SEAT.body - SEAT.lens}v8h-${SEAT.body - SEAT.lens}zM${SEAT.lens} 94h${SEAT.body - SEAT.lens}v8h-${SEAT.body - SEAT.lens}z`}
        />
      )}
      <g transform={`translate(${along} ${raised}) rotate(${turned} ${SEAT.lens} 66)`}>
        <path className="term-part" d={`M${SEAT.lens} 30h-8v-4H34v80h80v-4h8z`} />
        <path className="term-glass" d="M44 40q10 26 0 52q-10 -26 0 -52zM92 46q8 20 0 40q-8 -20 0 -40z" />
        {rear && <path className="term-part meant" d={`M${SEAT.lens} 48h16v36h-16z`} />}
      </g>
      {light && <path className="term-light" d={`M84 51L${SENSOR} 40V92L84 81z`} />}
      <path className="term-axis" d={`M14 66H${SENSOR + 14}`} />
      {children}
    </Drawn>
  );
}

export function Drawn({ children }: { children: ReactNode }) {
  return (
    <svg className="term-drawing" viewBox="0 0 250 132" aria-hidden="true">
      {children}
    </svg>
  );
}

/** A dimension along the axis; `out`: what is too short for its words has them beside it. */
export function Along({
  from,
  to,
  y,
  text,
  out = false,
}: {
  from: number;
  to: number;
  y: number;
  text: string;
  out?: boolean;
}) {
  const below = y > 66;
  const edge = below ? 98 : 34;
  return (
    <>
      <path
        className="term-dimension"
        d={`M${from} ${edge}V${below ? y + 4 : y - 4}M${to} ${edge}V${below ? y + 4 : y - 4}`}
      />
      <path className="term-dimension" d={`M${from} ${y}H${to}m-4 -3l4 3 -4 3M${from + 4} ${y - 3}l-4 3 4 3`} />
      <text
        className="term-text"
        x={out ? to + 6 : (from + to) / 2}
        y={out ? y + 4 : below ? y + 12 : y - 4}
        textAnchor={out ? "start" : "middle"}
      >
        {text}
      </text>
    </>
  );
}

/** A dimension across the axis. */
export function Across({ x, half, text }: { x: number; half: number; text: string }) {
  return (
    <>
      <path
        className="term-dimension"
        d={`M${x} ${66 - half}V${66 + half}m-3 -4l3 4 3 -4M${x - 3} ${66 - half + 4}l3 -4 3 4`}
      />
      <text className="term-text" x={x + 5} y="82">
        {text}
      </text>
    </>
  );
}

export function Note({ x, y, text }: { x: number; y: number; text: string }) {
  return (
    <text className="term-text" x={x} y={y} textAnchor="middle">
      {text}
    </text>
  );
}
