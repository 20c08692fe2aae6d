import "./measured.css";

import { type PointerEvent, useRef, useState } from "react";

import { type MeasuredAnswer, type PlacedEdge, viewOf } from "../../api/measuredQueries";

export interface Box {
  x: number;
  y: number;
  width: number;
  height: number;
}
export interface Spot {
  x: number;
  y: number;
}

interface Props {
  picture: { id: string; name: string };
  answer: MeasuredAnswer | null;
  /** Rectangles that were dragged. */
  regions: readonly Box[];
  /** Ends of a ladder that were clicked. */
  ends?: readonly Spot[];
  onRegion?: (box: Box) => void;
  onSpot?: (spot: Spot) => void;
  size: { width: number; height: number } | null;
}

const LEAST_DRAG = 12;

/** Where an edge runs: its two ends. */
function endsOf({ line, upright, rows }: PlacedEdge): [Spot, Spot] {
  const half = rows / 2;
  const lean = Math.tan((line.angle_deg * Math.PI) / 180);
  const [dx, dy] = upright ? [-lean * half, half] : [half, lean * half];
  return [
    { x: line.x - dx, y: line.y - dy },
    { x: line.x + dx, y: line.y + dy },
  ];
}

/** A picture with what was measured drawn over it: edges, what does not qualify, a circle; rectangles are dragged. */
export function PictureOverlay({ picture, answer, regions, ends = [], onRegion, onSpot, size }: Props) {
  const svg = useRef<SVGSVGElement>(null);
  const [drag, setDrag] = useState<{ from: Spot; to: Spot } | null>(null);
  const [loaded, setLoaded] = useState<{ id: string; width: number; height: number } | null>(null);
  // Until it is measured its size is that of the view.
  const shown = loaded?.id === picture.id ? loaded : null;
  const whole = size ?? shown ?? { width: 1500, height: 1000 };
  const { width, height } = whole;
  const thick = width / 420;
  const at = (event: PointerEvent): Spot => {
    const box = svg.current?.getBoundingClientRect();
    if (!box) return { x: 0, y: 0 };
    const x = ((event.clientX - box.left) / box.width) * width;
    const y = ((event.clientY - box.top) / box.height) * height;
    return { x: Math.min(width, Math.max(0, x)), y: Math.min(height, Math.max(0, y)) };
  };
  const end = () => {
    if (!drag) return;
    const box = boxOf(drag);
    setDrag(null);
    if (Math.min(box.width, box.height) < LEAST_DRAG) onSpot?.(drag.to);
    else onRegion?.(box);
  };
  return (
    <div className="measured-picture">
      <img
        src={viewOf(picture.id)}
        alt=""
        hidden
        onLoad={({ currentTarget: { naturalWidth, naturalHeight } }) =>
          setLoaded({ id: picture.id, width: naturalWidth, height: naturalHeight })
        }
      />
      <svg
        ref={svg}
        viewBox={`0 0 ${width} ${height}`}
        role="img"
        aria-label={answer ? `${picture.name}. ${answer.says}` : picture.name}
        data-picture={shown ? "shown" : "coming"}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          setDrag({ from: at(event), to: at(event) });
        }}
        onPointerMove={(event) => drag && setDrag({ from: drag.from, to: at(event) })}
        onPointerUp={end}
        onPointerCancel={() => setDrag(null)}
      >
        <image href={viewOf(picture.id)} width={width} height={height} preserveAspectRatio="none" />
        {[...regions, ...(drag && onRegion ? [boxOf(drag)] : [])].map((box, index) => (
          <rect key={index} className="measured-region" strokeWidth={thick / 2} {...box} />
        ))}
        {answer?.edges.map((edge) => (
          <Edge key={`${edge.line.x} ${edge.line.y}`} edge={edge} thick={thick} />
        ))}
        {answer?.refused.map((one) => (
          <g key={`${one.x} ${one.y}`} data-refused={one.why}>
            <title>{one.says}</title>
            <path
              className="measured-refused"
              strokeWidth={thick * 0.7}
              d={cross(one.x, one.y, thick * 4)}
              strokeDasharray={`${thick} ${thick}`}
            />
          </g>
        ))}
        {answer?.circle && <Circle answer={answer} thick={thick} />}
        {ends.map((spot, index) => (
          <path key={index} className="measured-edge" strokeWidth={thick} d={cross(spot.x, spot.y, thick * 6)} />
        ))}
        {ends.length === 2 && (
          <path
            className="measured-edge"
            strokeWidth={thick / 2}
            strokeDasharray={`${3 * thick} ${2 * thick}`}
            d={`M${ends[0]?.x ?? 0} ${ends[0]?.y ?? 0}L${ends[1]?.x ?? 0} ${ends[1]?.y ?? 0}`}
          />
        )}
        {answer?.ladder?.peak && (
          <circle
            className="measured-edge"
            strokeWidth={1.5 * thick}
            cx={answer.ladder.peak.x}
            cy={answer.ladder.peak.y}
            r={10 * thick}
            data-peak={answer.ladder.peak.offset_mm}
          />
        )}
      </svg>
    </div>
  );
}

const cross = (x: number, y: number, r: number) =>
  `M${x - r} ${y - r}L${x + r} ${y + r}M${x - r} ${y + r}L${x + r} ${y - r}`;

function boxOf({ from, to }: { from: Spot; to: Spot }): Box {
  const [x, y] = [Math.round(Math.min(from.x, to.x)), Math.round(Math.min(from.y, to.y))];
  return { x, y, width: Math.round(Math.abs(to.x - from.x)), height: Math.round(Math.abs(to.y - from.y)) };
}

function Edge({ edge, thick }: { edge: PlacedEdge; thick: number }) {
  const [from, to] = endsOf(edge);
  const d = `M${from.x} ${from.y}L${to.x} ${to.y}`;
  const { mtf50_lp_per_mm: perMm, mtf50_cycles_per_pixel: perPixel, uncertainty: u } = edge.line;
  const said = perMm === null ? perPixel.toFixed(2) : perMm.toFixed(0);
  const whole = `${perPixel.toFixed(3)}${u === null ? "" : ` ± ${u.toFixed(3)}`} cycles a pixel${perMm === null ? "" : `, ${perMm.toFixed(0)} lp/mm`}`;
  return (
    <g data-edge={edge.place}>
      <title>{whole}</title>
      <path className="measured-edge-halo" strokeWidth={2.2 * thick} d={d} />
      <path className="measured-edge" strokeWidth={1.1 * thick} d={d} />
      <text
        className="measured-value"
        x={edge.line.x + (edge.upright ? 4 * thick : 0)}
        y={edge.line.y + (edge.upright ? 4 * thick : -3 * thick)}
        fontSize={9 * thick}
        strokeWidth={2 * thick}
        textAnchor={edge.upright ? "start" : "middle"}
      >
        {said}
      </text>
    </g>
  );
}

const STOPS: Record<string, string> = { "0.33": "⅓", "0.67": "⅔", "1.00": "1 stop", "2.00": "2" };

/** The circle where it was found, and how many stops the light has fallen off. */
function Circle({ answer, thick }: { answer: MeasuredAnswer; thick: number }) {
  const { circle, picture } = answer;
  if (!circle) return null;
  const pitch = picture.pitch_mm ?? 1;
  const [x, y] = [picture.width / 2 + circle.centre[0] / pitch, picture.height / 2 + circle.centre[1] / pitch];
  const diameter = circle.circle ?? circle.at_least;
  return (
    <g data-circle={circle.circle ?? "at least"}>
      {diameter !== null && (
        <circle
          className="measured-ring"
          strokeWidth={1.4 * thick}
          strokeDasharray={circle.circle === null ? `${4 * thick} ${3 * thick}` : undefined}
          cx={x}
          cy={y}
          r={diameter / pitch / 2}
        />
      )}
      {circle.falls.map(({ stops: fallen, radius }) => (
        <g key={fallen} data-fallen={fallen}>
          <circle
            className="measured-fall"
            strokeWidth={thick / 1.5}
            strokeDasharray={`${2 * thick} ${2 * thick}`}
            cx={x}
            cy={y}
            r={radius / pitch}
          />
          <text
            className="measured-value"
            fontSize={9 * thick}
            strokeWidth={2 * thick}
            textAnchor="middle"
            x={x + radius / pitch}
            y={y + 3 * thick}
          >
            {`−${STOPS[fallen.toFixed(2)] ?? fallen}`}
          </text>
        </g>
      ))}
      <path className="measured-edge" strokeWidth={thick} d={cross(x, y, 4 * thick)} />
      <text className="measured-value" fontSize={10 * thick} strokeWidth={2.2 * thick} x={5 * thick} y={14 * thick}>
        {circle.corner_stops === null ? "black" : `−${circle.corner_stops.toFixed(1)} stops`}
      </text>
    </g>
  );
}
