import "./measured.css";

import type { ChartSheet } from "../../api/measuredQueries";
import { mm } from "../../parts/format";
import { evenScale } from "../axes";
import { Fitted } from "../bench/Fitted";
import { Hatch } from "../Hatch";

const HEIGHT = 150;
const GROUND = 104;

/** From the side, to scale: the camera on its tripod, and from where to where the chart may stand. */
export function ChartDistance({ sheet, ladder }: { sheet: ChartSheet; ladder: boolean }) {
  const { most_distance_mm: most } = sheet;
  if (most === null) return null;
  const least = sheet.least_distance_mm ?? 0;
  const far = 1.35 * Math.max(least, most);
  return (
    <Fitted className="measured-chart" label={sheet.says} height={() => HEIGHT}>
      {(width) => {
        const x = evenScale([0, far], [44, width - 12]);
        const stands = (least + Math.max(least, most)) / 2;
        const paper = ladder ? 20 : 44;
        return (
          <>
            <Hatch id="bound-hatch" />
            <path className="error-axis" d={`M8 ${GROUND}H${width - 8}`} />
            {least > 0 && (
              <rect className="error-bound" x={x(0) + 4} y={30} width={x(least) - x(0) - 4} height={GROUND - 30} />
            )}
            {most < far && (
              <rect className="error-bound" x={x(most)} y={30} width={width - 8 - x(most)} height={GROUND - 30} />
            )}
            {most > least && (
              <rect className="error-window" x={x(least)} y={30} width={x(most) - x(least)} height={GROUND - 30} />
            )}
            <path className="error-axis" d={`M28 66L20 ${GROUND}M28 66L36 ${GROUND}M28 66V${GROUND}`} />
            <path className="caliper-jaw" d="M16 48h22v18h-22zM38 52h8v10h-8z" />
            <path
              className="measured-line"
              d={
                ladder
                  ? `M${x(stands) - paper} ${57 - paper}L${x(stands) + paper} ${57 + paper}`
                  : `M${x(stands)} ${57 - paper / 2}V${57 + paper / 2}`
              }
              strokeWidth={3}
            />
            <path className="measured-demand" d={`M46 57H${x(stands)}`} strokeDasharray="2 4" />
            {least > 0 && (
              <text x={(x(0) + x(least)) / 2} y={22} textAnchor="middle">
                the printer’s edge shows
              </text>
            )}
            {most > least && (
              <text x={(x(least) + x(most)) / 2} y={22} textAnchor="middle" fontWeight={600}>
                here
              </text>
            )}
            {most < far && width - x(most) > 90 && (
              <text x={width - 12} y={22} textAnchor="end">
                too few pixels
              </text>
            )}
            {[least, most]
              .filter((at) => at > 0 && at < far)
              .map((at, index) => (
                <text key={index} x={x(at)} y={GROUND + 18} textAnchor="middle">
                  {`${mm(at / 1000, 1)} m`}
                </text>
              ))}
          </>
        );
      }}
    </Fitted>
  );
}
