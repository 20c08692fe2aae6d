import { useMemo, useState } from "react";

import type { MatchReport, Route } from "../../api/client";
import { useWidth } from "../../app/useWidth";
import { describe } from "../../drawing/describe";
import { Ribbon } from "../../drawing/Ribbon";
import { frameFor } from "../../drawing/scale";
import { Section } from "../../drawing/Section";
import { Strip } from "../../drawing/Strip";

interface Props {
  report: MatchReport;
  route: Route;
  units: "metric" | "imperial";
}

const STRIP = 94;
const LEADER = 26;

/** Section, hundredths strip and ribbon: one drawing. */
export function Sheet({ report, route, units }: Props) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const [stop, setStop] = useState<number | null>(null);
  const wide = width >= 900;
  const height = wide ? (width >= 1500 ? 430 : 366) : 250;
  const frame = useMemo(
    () =>
      frameFor(route, {
        width,
        height: height - (wide ? 0 : 6),
        behind: wide ? Math.min(260, width * 0.17) : 64,
        ahead: wide ? width * 0.36 : 8,
        margin: 34,
      }),
    [route, width, height, wide],
  );
  const placed = { ...frame, axisY: frame.axisY + 22 };
  const total = height + LEADER + STRIP;
  return (
    <div className="sheet-drawing" ref={ref}>
      {width > 0 && (
        <>
          <svg
            className="sheet-svg"
            width={width}
            height={total}
            viewBox={`0 0 ${width} ${total}`}
            role="img"
            aria-label={describe(report, route)}
          >
            <Section report={report} route={route} frame={placed} />
            <Strip
              report={report}
              route={route}
              frame={placed}
              top={height + LEADER}
              height={STRIP}
              stop={stop}
              onStop={setStop}
            />
          </svg>
          <Ribbon route={route} units={units} width={width} />
        </>
      )}
    </div>
  );
}
