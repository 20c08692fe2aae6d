import "./NestedFrames.css";

import type { HalfView, Numbered } from "./views";
import { halfViewOf, outlookMm } from "./views";

const WIDTH = 480;
const HEIGHT = 320;
// Numbers of frames whose upper edges lie nearer to each other than this would run together.
const APART = 16;

interface Props {
  rows: readonly Numbered[];
  chosen: string | null;
  onChoose: (key: string) => void;
  reference: { view: HalfView; name: string } | null;
  /** Where the picture behind them is, of a focal length on 36 × 24. */
  picture: (mm: number) => string;
}

interface Framed extends Numbered {
  view: HalfView;
}

function labelled(frames: readonly Framed[], scale: number, chosen: string | null): Set<string> {
  const tops: number[] = [];
  const found = new Set<string>();
  const first = [...frames].sort((one, other) => {
    const here = (frame: Framed) => (frame.row.key === chosen ? 1 : 0);
    return here(other) - here(one) || other.view.up - one.view.up;
  });
  for (const { row, view } of first) {
    const top = view.up * scale;
    if (view.across * scale < 14 || tops.some((one) => Math.abs(one - top) < APART)) continue;
    tops.push(top);
    found.add(row.key);
  }
  return found;
}

/** Every view of a table as a frame over one scene, all from one place: what is inside is in the picture. */
export function NestedFrames({ rows, chosen, onChoose, reference, picture }: Props) {
  const frames = rows.flatMap((one) => {
    const [setting] = one.row.settings;
    const view = setting ? halfViewOf(setting) : null;
    return view ? [{ ...one, view }] : [];
  });
  const views = [...frames.map(({ view }) => view), ...(reference ? [reference.view] : [])];
  const mm = outlookMm(views);
  const scale = WIDTH / 2 / (18 / mm);
  const numbers = labelled(frames, scale, chosen);
  const box = ({ across, up }: HalfView) => ({
    x: WIDTH / 2 - across * scale,
    y: HEIGHT / 2 - up * scale,
    width: 2 * across * scale,
    height: 2 * up * scale,
  });
  const ordered = [...frames].sort((one, other) => Number(one.row.key === chosen) - Number(other.row.key === chosen));
  return (
    <figure className="nested-frames">
      <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} role="img" aria-label="The views as frames over one scene" data-mm={mm}>
        <image href={picture(mm)} width={WIDTH} height={HEIGHT} preserveAspectRatio="none" />
        {reference && (
          <rect className="frame-reference" {...box(reference.view)}>
            <title>{reference.name}</title>
          </rect>
        )}
        {ordered.map(({ row, number, view }) => {
          const at = box(view);
          return (
            <g
              key={row.key}
              className={row.key === chosen ? "frame-line chosen" : "frame-line"}
              data-frame={row.key}
              onClick={() => onChoose(row.key)}
            >
              <rect className="frame-grip" {...at} />
              <rect className={row.covered === false ? "dark" : ""} {...at} />
              {numbers.has(row.key) && (
                <>
                  <rect className="frame-tag" x={at.x} y={at.y} width={number > 9 ? 22 : 15} height={15} />
                  <text x={at.x + (number > 9 ? 11 : 7.5)} y={at.y + 12} textAnchor="middle">
                    {number}
                  </text>
                </>
              )}
            </g>
          );
        })}
      </svg>
      <figcaption>
        {reference ? `Numbers as in the table; dashed: ${reference.name}.` : "Numbers as in the table."}
      </figcaption>
    </figure>
  );
}
