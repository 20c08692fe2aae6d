import { useQuery } from "@tanstack/react-query";
import Button from "antd/es/button";
import { useState } from "react";

import { benchPieceQuery } from "../../api/benchQueries";
import type { AskedQuestion, ShownOf } from "../../api/exerciseQueries";
import { CaliperSheet } from "../../drawing/bench/CaliperSheet";

interface Props {
  question: AskedQuestion;
  shown: ShownOf<"caliper">;
  onAnswer: ((id: string) => void) | null;
}

// From so near, in mm, the jaws go to a length that can be answered.
const NEAR_MM = 0.4;
const KEYED = [0.1, 1];

/** A caliper on the ring; where they are to be set, its jaws slide, and stop at what can be answered. */
export function Jaws({ question, shown, onAnswer }: Props) {
  const [ring] = question.about.adapters;
  const page = useQuery(benchPieceQuery({ kind: "adapters", id: ring ?? "" }));
  const stops = shown.readings_mm.map((reading) => reading - shown.zero_mm);
  const [opening, setOpening] = useState<number | null>(null);
  const [, ...behind] = stops;
  if (page.error || ring === undefined) return <p className="practice-nothing">{question.described}</p>;
  if (!page.data) return <div className="skeleton" aria-busy="true" />;
  const quantity = page.data.piece.quantities.find((one) => one.quantity === "length");
  if (!quantity) return null;
  const widest = Math.max(...stops);
  const at = shown.slides ? (opening ?? widest + 6) : (stops[0] ?? 0);
  const display = (at + shown.zero_mm).toFixed(2);
  const slide = (mm: number) => {
    const by = mm - at;
    const keyed = KEYED.some((step) => Math.abs(Math.abs(by) - step) < 1e-6);
    const beyond = stops.filter((stop) => (by > 0 ? stop > at + 1e-6 : stop < at - 1e-6));
    if (keyed && beyond.length > 0) {
      setOpening(by > 0 ? Math.min(...beyond) : Math.max(...beyond));
      return;
    }
    const near = stops.reduce((best, stop) => (Math.abs(stop - mm) < Math.abs(best - mm) ? stop : best), Infinity);
    setOpening(Math.abs(near - mm) < NEAR_MM ? near : Math.max(0, mm));
  };
  const stands = question.choices.find(({ text }) => text.startsWith(display.replace("-", "−")));
  return (
    <div className="practice-jaws" data-display={display}>
      <CaliperSheet
        piece={page.data.piece}
        quantity={quantity}
        openingMm={at}
        display={display}
        touching={false}
        onMove={shown.slides && onAnswer ? slide : null}
        places={
          shown.slides || behind.length === 0
            ? []
            : shown.readings_mm.map((reading, index) => ({ deg: 90 * index, reading }))
        }
        current={null}
      />
      {shown.slides && (
        <Button disabled={!stands || !onAnswer} onClick={() => stands && onAnswer?.(stands.id)} data-action="set">
          {stands ? `They show ${display} mm` : "Slide the jaws onto the ring"}
        </Button>
      )}
    </div>
  );
}
