import "./money.css";

import { type KeyboardEvent, type PointerEvent, useRef } from "react";

import type { Curve } from "../../api/planQueries";
import { evenScale } from "../axes";
import { shortened } from "../../parts/format";

interface Props {
  curve: Curve;
  demands: number;
  currency: string;
  width: number;
  /** Where the budget's line stands, in money. */
  budget: number;
  onBudget: (money: number) => void;
}

const LEFT = 62;
const RIGHT = 26;
const TOP = 22;
const BOTTOM = 46;
const HEIGHT = 262;

/** The step that a budget reaches: the highest that costs no more. */
export function stepAt(curve: Curve, budget: number): number {
  let found = 0;
  curve.steps.forEach((step, place) => {
    if (step.cost <= budget + 1e-9) found = place;
  });
  return found;
}

/** How high a step stands: what works slowly counts half. */
const heightOf = ({ met, slow }: Curve["steps"][number]) => met - slow / 2;

/** Money against what works: a step for each purchase, and a line for the budget to be dragged over it. */
export function MoneyCurve({ curve, demands, currency, width, budget, onBudget }: Props) {
  const svg = useRef<SVGSVGElement>(null);
  const { steps } = curve;
  const costs = steps.map(({ cost }) => cost);
  const least = Math.min(0, ...costs);
  const most = Math.max(1, ...costs) * 1.16;
  const x = evenScale([least, most], [LEFT, width - RIGHT]);
  const fewest = Math.max(0, Math.min(demands, ...steps.map(heightOf)) - 1);
  const y = evenScale([fewest, Math.max(fewest + 1, demands)], [HEIGHT - BOTTOM, TOP]);
  const here = stepAt(curve, budget);
  const line = steps
    .map((step, place) => {
      const end = x(steps[place + 1]?.cost ?? most);
      return `${place === 0 ? `M${x(step.cost)} ` : "V"}${y(heightOf(step))}H${end}`;
    })
    .join("");
  const move = (event: PointerEvent) => {
    const box = svg.current?.getBoundingClientRect();
    if (!box) return;
    onBudget(Math.round(Math.max(least, Math.min(most, x.invert(event.clientX - box.left)))));
  };
  const keys = (event: KeyboardEvent) => {
    const steps_by = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1 }[event.key];
    if (steps_by === undefined) return;
    event.preventDefault();
    event.stopPropagation();
    const to = Math.max(0, Math.min(steps.length - 1, here + steps_by));
    onBudget(steps[to]?.cost ?? budget);
  };
  // Where there is no more room on the right, a step is named on its left.
  const late = (cost: number) => x(cost) > width * 0.62;
  const now = steps[here];
  const apart = labelled(steps.map((step) => y(heightOf(step))));
  return (
    <svg
      ref={svg}
      className="sheet-svg money-curve"
      width={width}
      height={HEIGHT}
      data-steps={steps.length}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        move(event);
      }}
      onPointerMove={(event) => {
        if (event.buttons > 0) move(event);
      }}
    >
      {y
        .ticks(Math.min(6, demands))
        .filter(Number.isInteger)
        .map((tick) => (
          <g key={tick} className="money-tick">
            <path d={`M${LEFT} ${y(tick)}H${width - RIGHT}`} />
            <text x={LEFT - 10} y={y(tick) + 4} textAnchor="end">
              {tick}
            </text>
          </g>
        ))}
      {x.ticks(7).map((tick) => (
        <g key={tick} className="money-tick">
          <path d={`M${x(tick)} ${HEIGHT - BOTTOM}v5`} />
          <text x={x(tick)} y={HEIGHT - BOTTOM + 20} textAnchor="middle">
            {tick}
          </text>
        </g>
      ))}
      <text className="money-axis" x={width - RIGHT} y={HEIGHT - 6} textAnchor="end">
        {currency}
      </text>
      <text className="money-axis" x={LEFT - 10} y={TOP - 8} textAnchor="start">
        {`of ${demands} work`}
      </text>
      <rect
        className="money-within"
        x={x(least)}
        y={TOP}
        width={Math.max(0, x(budget) - x(least))}
        height={HEIGHT - BOTTOM - TOP}
      />
      <path className="money-line" d={line} />
      {steps.map((step, place) => (
        <g key={`${step.met} ${step.slow}`} className={place === here ? "money-step is-here" : "money-step"}>
          <circle cx={x(step.cost)} cy={y(heightOf(step))} r={step.bound < step.cost ? 4 : 5.5} />
          {apart[place] === true && step.opens.length > 0 && (
            <text
              x={x(step.cost) + (late(step.cost) ? -10 : 10)}
              y={y(heightOf(step)) + (late(step.cost) ? 5 : 17)}
              textAnchor={late(step.cost) ? "end" : "start"}
            >
              {shortened(
                step.opens.join(", ") + (step.slow > 0 ? ", slowly" : ""),
                late(step.cost) ? 30 : (width - x(step.cost)) / 15,
              )}
            </text>
          )}
        </g>
      ))}
      <g
        className="money-budget"
        role="slider"
        tabIndex={0}
        aria-label="Budget"
        aria-valuemin={least}
        aria-valuemax={Math.round(most)}
        aria-valuenow={budget}
        aria-valuetext={now ? `${budget} ${currency}: ${now.met} of ${demands} work${slowly(now.slow)}` : undefined}
        onKeyDown={keys}
      >
        <path className="money-grip" d={`M${x(budget)} ${TOP}V${HEIGHT - BOTTOM}`} />
        <path d={`M${x(budget)} ${TOP - 8}V${HEIGHT - BOTTOM}`} />
        <path className="money-handle" d={`M${x(budget) - 7} ${TOP - 16}h14v9l-7 8l-7 -8z`} />
      </g>
    </svg>
  );
}

export const slowly = (slow: number) => (slow > 0 ? `, ${slow} of them slowly` : "");

/** Which labels have room: those that stand far enough below the one before. */
function labelled(heights: readonly number[]): boolean[] {
  let last = Number.POSITIVE_INFINITY;
  return heights.map((height) => {
    const room = last - height >= 17;
    if (room) last = height;
    return room;
  });
}
