import { type KeyboardEvent, type MouseEvent, useEffect, useMemo, useRef } from "react";

import type { GridCell, GridEnds } from "../../api/planQueries";
import { GridCells } from "../../drawing/grid/GridCells";
import { layoutOf, ROW, rowAt } from "../../drawing/grid/layout";
import { gradeTitle } from "../../drawing/GradeMark";
import { BodyNames, LensNames, Sums, TOP } from "./GridEdges";

interface Props {
  lenses: readonly GridEnds[];
  bodies: readonly GridEnds[];
  cellOf: (lens: string, body: string) => GridCell | undefined;
  grouped: boolean;
  width: number;
  at: { row: number; column: number };
  onChoose: (row: number, column: number) => void;
  onOpen: () => void;
}

const NAMES = 232;
const SUMS = 92;

/** The grid to be looked over: lenses in rows, bodies in columns, how much each still does at its end. */
export function GridDrawing({ lenses, bodies, cellOf, grouped, width, at, onChoose, onOpen }: Props) {
  const scroller = useRef<HTMLDivElement>(null);
  const layout = useMemo(
    () => layoutOf(lenses, grouped, bodies.length, width - NAMES - SUMS - 24),
    [lenses, grouped, bodies.length, width],
  );
  const { cell: wide, rows } = layout;
  const across = wide * bodies.length;
  const here = rows[at.row];
  const lens = lenses[at.row];
  const body = bodies[at.column];
  const cell = lens && body ? cellOf(lens.id, body.id) : undefined;
  useEffect(() => {
    const box = scroller.current;
    if (!box || !here) return;
    const top = here.y;
    if (top < box.scrollTop + 24) box.scrollTop = Math.max(0, top - 24);
    else if (top + ROW > box.scrollTop + box.clientHeight - TOP) box.scrollTop = top + ROW - box.clientHeight + TOP;
    const left = at.column * wide;
    if (left < box.scrollLeft) box.scrollLeft = left;
    else if (left + wide > box.scrollLeft + box.clientWidth - NAMES - SUMS)
      box.scrollLeft = left + wide - box.clientWidth + NAMES + SUMS;
  }, [here, at.column, wide]);
  const keys = (event: KeyboardEvent) => {
    const page = 10;
    const moves: Record<string, [number, number]> = {
      ArrowDown: [1, 0],
      ArrowUp: [-1, 0],
      ArrowRight: [0, 1],
      ArrowLeft: [0, -1],
      PageDown: [page, 0],
      PageUp: [-page, 0],
      Home: [0, -bodies.length],
      End: [0, bodies.length],
    };
    const move = moves[event.key];
    if (event.key === "Enter") onOpen();
    if (!move && event.key !== "Enter") return;
    event.preventDefault();
    event.stopPropagation();
    if (move) onChoose(within(at.row + move[0], lenses.length), within(at.column + move[1], bodies.length));
  };
  const pointed = (event: MouseEvent<SVGSVGElement>) => {
    const box = event.currentTarget.getBoundingClientRect();
    const row = rowAt(layout, event.clientY - box.top);
    const column = Math.floor((event.clientX - box.left) / wide);
    return row >= 0 && column >= 0 && column < bodies.length ? ([row, column] as const) : null;
  };
  return (
    <div ref={scroller} className="sheet grid-scroll" data-cell={`${lens?.id ?? ""} ${body?.id ?? ""}`}>
      <div className="grid-plan" style={{ gridTemplateColumns: `${NAMES}px ${across}px ${SUMS}px` }}>
        <div className="grid-corner">works on</div>
        <BodyNames bodies={bodies} wide={wide} chosen={at.column} of={lenses.length} />
        <div className="grid-sums-head">now · could</div>
        <LensNames layout={layout} chosen={at.row} onChoose={(row) => onChoose(row, at.column)} />
        {/* eslint-disable-next-line jsx-a11y/no-noninteractive-element-interactions -- it takes keys */}
        <div
          className="grid-field"
          role="application"
          aria-label={`${lenses.length} lenses on ${bodies.length} bodies; arrow keys move`}
          // eslint-disable-next-line jsx-a11y/no-noninteractive-tabindex -- an application takes keys
          tabIndex={0}
          onKeyDown={keys}
        >
          {/* eslint-disable-next-line jsx-a11y/click-events-have-key-events, jsx-a11y/no-static-element-interactions -- keys are the field's */}
          <svg
            width={across}
            height={layout.height}
            className="grid-cells"
            onMouseMove={(event) => {
              const found = pointed(event);
              if (found && (found[0] !== at.row || found[1] !== at.column)) onChoose(...found);
            }}
            onDoubleClick={onOpen}
            onClick={(event) => {
              const found = pointed(event);
              if (found) onChoose(...found);
            }}
          >
            {here && (
              <>
                <rect className="grid-cross" x={0} y={here.y} width={across} height={ROW} />
                <rect className="grid-cross" x={at.column * wide} y={0} width={wide} height={layout.height} />
              </>
            )}
            <path className="grid-line" d={layout.heads.map(({ y }) => `M0 ${y + 23.5}h${across}`).join("")} />
            <GridCells layout={layout} bodies={bodies} cellOf={cellOf} />
            {here && (
              <rect className="grid-here" x={at.column * wide + 1} y={here.y + 1} width={wide - 2} height={ROW - 2} />
            )}
          </svg>
          <span className="unseen" aria-live="polite">
            {lens && body && cell ? heard(lens, body, cell) : ""}
          </span>
        </div>
        <Sums layout={layout} chosen={at.row} />
      </div>
    </div>
  );
}

const within = (value: number, count: number) => Math.max(0, Math.min(count - 1, value));

function heard(lens: GridEnds, body: GridEnds, cell: GridCell): string {
  const now = cell.owned_grade ? gradeTitle(cell.owned_grade) : "nothing you own";
  const could = cell.market_grade ? gradeTitle(cell.market_grade) : "nothing joins them";
  const load = cell.cautions.includes("load_exceeded") ? "; support the lens" : "";
  const rear = cell.cautions.includes("clearance_unknown") ? "; whether its rear clears is not known" : "";
  const ring = cell.unlisted_grade ? `; with a ring that is not listed: ${gradeTitle(cell.unlisted_grade)}` : "";
  return `${lens.name} on ${body.name}: ${now}; ${could}${ring}${load}${rear}`;
}
