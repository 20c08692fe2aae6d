import type { GridEnds } from "../../api/planQueries";
import { type Layout, ROW } from "../../drawing/grid/layout";
import { AwayMark } from "../../parts/Away";
import { classes } from "../../parts/classes";
import { shortened } from "../../parts/format";
import { Plain } from "../../parts/Plain";

/** How high the bodies' names stand over the grid. */
export const TOP = 142;
const BAR = 40;

interface BodyProps {
  bodies: readonly GridEnds[];
  wide: number;
  chosen: number;
  /** How many lenses there are. */
  of: number;
}

/** The bodies by name, each over a bar: how many lenses work on it, in the outline of how many could. */
export function BodyNames({ bodies, wide, chosen, of }: BodyProps) {
  const most = Math.max(1, of, ...bodies.map((one) => one.could_work));
  return (
    <svg className="grid-bodies" width={wide * bodies.length} height={TOP} aria-hidden="true">
      {bodies.map((one, column) => {
        const x = column * wide + wide / 2;
        const could = (one.could_work / most) * BAR;
        const now = (one.works_now / most) * BAR;
        return (
          <g key={one.id} className={column === chosen ? "is-here" : ""}>
            <rect className="bar-could" x={x - 7} y={TOP - 6 - could} width={14} height={could} />
            <rect className="bar-now" x={x - 7} y={TOP - 6 - now} width={14} height={now} />
            <text className={one.at_hand > 0 ? "held" : ""} transform={`translate(${x + 4} ${TOP - 52}) rotate(-38)`}>
              {shortened(one.name, 15)}
            </text>
          </g>
        );
      })}
    </svg>
  );
}

interface LensProps {
  layout: Layout;
  chosen: number;
  onChoose: (row: number) => void;
}

/** The lenses by name, under their mounts; those that work on nothing of yours say so. */
export function LensNames({ layout, chosen, onChoose }: LensProps) {
  return (
    <div className="grid-names" style={{ height: layout.height }}>
      {layout.heads.map(({ name, y }) => (
        <div key={name} className="grid-mount" style={{ top: y }}>
          {name}
        </div>
      ))}
      {layout.rows.map(({ lens, y }, row) => (
        <Plain
          key={lens.id}
          tabIndex={-1}
          className={classes(
            "grid-name",
            row === chosen && "is-here",
            lens.at_hand > 0 && "held",
            lens.at_hand > 0 && lens.on_hand === 0 && "stranded",
          )}
          style={{ top: y, height: ROW }}
          onClick={() => onChoose(row)}
        >
          {lens.name}
          <AwayMark id={lens.id} />
        </Plain>
      ))}
    </div>
  );
}

/** On how many bodies each lens works now, and could. */
export function Sums({ layout, chosen }: { layout: Layout; chosen: number }) {
  return (
    <div className="grid-sums" style={{ height: layout.height }}>
      {layout.rows.map(({ lens, y }, row) => (
        <span key={lens.id} className={row === chosen ? "is-here" : ""} style={{ top: y, height: ROW }}>
          <b>{lens.works_now}</b>
          <i>{lens.could_work}</i>
        </span>
      ))}
    </div>
  );
}
