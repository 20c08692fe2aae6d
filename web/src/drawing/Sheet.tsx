import "./Sheet.css";

import { useMemo, useRef, useState } from "react";

import type { Subject } from "../api/client";
import { useWidth } from "../parts/useWidth";
import { describe } from "./describe";
import { Parts } from "./Parts";
import { Ribbon } from "./Ribbon";
import { frameFor } from "./scale";
import type { Scene } from "./scene";
import { Section } from "./section/Section";
import { Strip } from "./Strip";
import { useTween } from "./useTween";

interface Props {
  scene: Scene;
  /** Another route, drawn below the axis. */
  beside?: Scene | null;
  units: "metric" | "imperial";
  /** What people photograph: the marks on the ribbon. */
  subjects: readonly Subject[];
  /** What the drawing says, in words. */
  sentence: string;
}

const STRIP = 94;
const LEADER = 26;

/**
 * How the section and the strip share the sheet: lying with the strip below, or upright with the strip
 * beside.
 */
function layoutOf(scene: Scene, width: number, halved: boolean) {
  const strip = scene.route !== null;
  if (width < 700) {
    const breadth = strip ? width - 92 : width;
    return {
      section: {
        width: breadth,
        height: 452,
        upright: true,
        behind: 112,
        ahead: 16,
        slack: 0,
        margin: 52,
        offset: 32,
      },
      strip: { start: breadth + 12, breadth: 80, leader: 12 },
      width,
      height: 452,
      lightFrom: 0,
    };
  }
  const wide = width >= 1500;
  const height = (wide ? 540 : 366) + (halved ? 34 : 0);
  return {
    section: {
      width,
      height,
      upright: false,
      behind: Math.min(wide ? 570 : 372, width * 0.31),
      ahead: width * 0.3,
      slack: width * 0.025,
      margin: halved ? 51 : 39,
      offset: halved ? 5 : 17,
      halved,
    },
    strip: { start: height + LEADER, breadth: STRIP, leader: LEADER },
    width,
    height: strip ? height + LEADER + STRIP : height,
    lightFrom: width * 0.31,
  };
}

/** Section, hundredths strip and ribbon: one drawing. */
export function Sheet({ scene, beside = null, units, subjects, sentence }: Props) {
  const [ref, width] = useWidth<HTMLDivElement>();
  return (
    <div className="sheet-drawing" ref={ref}>
      {width > 0 && <Drawing {...{ scene, beside, width, units, subjects, sentence }} />}
    </div>
  );
}

function Drawing({
  scene: wanted,
  beside,
  width: available,
  units,
  subjects,
  sentence,
}: Props & { beside: Scene | null; width: number }) {
  const [stop, setStop] = useState<number | null>(null);
  const drawing = useRef<SVGSVGElement>(null);
  const layout = useMemo(() => layoutOf(wanted, available, beside !== null), [wanted, available, beside]);
  const goal = useMemo(() => {
    const [one, other] = [frameFor(wanted, layout.section), beside ? frameFor(beside, layout.section) : null];
    return other && other.scale < one.scale ? other : one;
  }, [wanted, beside, layout]);
  const { scene, frame, moving } = useTween(wanted, goal);
  const { width, height } = layout;
  const route = wanted.route;
  return (
    <>
      <svg
        ref={drawing}
        className="sheet-svg"
        width={width}
        height={height}
        viewBox={`0 0 ${width} ${height}`}
        role="img"
        aria-label={describe(wanted, sentence)}
        data-moving={moving}
      >
        <Section scene={scene} frame={frame} lightFrom={layout.lightFrom} half={beside ? "upper" : undefined} />
        {beside && <Section scene={beside} frame={frame} lightFrom={layout.lightFrom} half="lower" />}
        {route && (
          <Strip
            scene={scene}
            route={route}
            beside={beside?.route ?? null}
            frame={frame}
            {...layout.strip}
            stop={stop}
            onStop={setStop}
          />
        )}
      </svg>
      <Parts drawing={drawing} />
      {route && <Ribbon route={route} subjects={subjects} units={units} width={width} />}
    </>
  );
}
