import type { GridCell, GridEnds } from "../../api/planQueries";
import { gradeTitle, GradeMark } from "../../drawing/GradeMark";
import { GridCells } from "../../drawing/grid/GridCells";
import { layoutOf, ROW } from "../../drawing/grid/layout";
import { shortened } from "../../parts/format";

interface Props {
  lenses: readonly GridEnds[];
  bodies: readonly GridEnds[];
  cellOf: (lens: string, body: string) => GridCell | undefined;
  said: string;
}

const NAMES = 190;
const TOP = 104;
const WIDTH = 690;
const ROWS = 26;
const COLUMNS = 15;

/** The grid on paper: so many lenses and bodies a side, the names on each. */
export function PrintedGrid({ lenses, bodies, cellOf, said }: Props) {
  const sheets = [];
  // As many on every side: none of one row.
  const rows = Math.ceil(lenses.length / Math.max(1, Math.ceil(lenses.length / ROWS)));
  for (let row = 0; row < lenses.length; row += rows)
    for (let column = 0; column < bodies.length; column += COLUMNS)
      sheets.push({
        row,
        column,
        some: lenses.slice(row, row + rows),
        rears: bodies.slice(column, column + COLUMNS),
      });
  return (
    <>
      <h1>{said}</h1>
      <ul className="legend">
        {(["native", "full", "manual", "partial", "close_up", "none", "danger"] as const).map((grade) => (
          <li key={grade}>
            <GradeMark grade={grade} size={14} /> {gradeTitle(grade)}
          </li>
        ))}
      </ul>
      {sheets.map(({ row, column, some, rears }) => {
        const layout = layoutOf(some, false, rears.length, WIDTH - NAMES);
        return (
          <svg
            key={`${row} ${column}`}
            className="printed-grid"
            viewBox={`0 0 ${NAMES + layout.cell * rears.length + 60} ${TOP + layout.height}`}
            role="img"
            aria-label={`Lenses ${row + 1} to ${row + some.length}`}
          >
            {rears.map((one, place) => (
              <text key={one.id} transform={`translate(${NAMES + (place + 0.5) * layout.cell} ${TOP - 8}) rotate(-38)`}>
                {shortened(one.name, 14)}
              </text>
            ))}
            {layout.rows.map(({ lens, y }) => (
              <text key={lens.id} x={0} y={TOP + y + ROW * 0.68}>
                {shortened(lens.name, 16)}
              </text>
            ))}
            <g transform={`translate(${NAMES} ${TOP})`}>
              <GridCells layout={layout} bodies={rears} cellOf={cellOf} />
            </g>
          </svg>
        );
      })}
    </>
  );
}
