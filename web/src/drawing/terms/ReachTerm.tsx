import type { ReactNode } from "react";

import type { Word } from "../../api/client";
import { Drawn, Note } from "./Rig";

/** A camera at the left, what it sees to the right, infinity as a wall. */
function Reach({ from = 84, to = 226, children }: { from?: number; to?: number; children?: ReactNode }) {
  return (
    <Drawn>
      <path className="term-body" d="M8 52h22v28H8z" />
      <path className="term-part" d="M30 56h20v20H30z" />
      <path className="term-sensor" d="M14 56v20" />
      <path className="term-reach" d={`M${from} 60H${to}v12H${from}z`} />
      <path className="term-axis" d="M50 66h184" />
      <path className="term-wall" d="M232 34v64" />
      <Note x={222} y={116} text="infinity" />
      {children}
    </Drawn>
  );
}

const Flag = ({ x, text, y = 40 }: { x: number; text: string; y?: number }) => (
  <>
    <path className="term-mark" d={`M${x} 78V48`} />
    <Note x={x} y={y} text={text} />
  </>
);

/** What is told by distances before the camera, and by light that meets on the sensor. */
export const REACH_TERMS: Partial<Record<Word, ReactNode>> = {
  nearest_focus: (
    <Reach>
      <Flag x={84} text="nearest" />
      <path className="term-dimension" d="M14 92h70m-4 -3l4 3 -4 3M18 89l-4 3 4 3" />
    </Reach>
  ),
  farthest_focus: (
    <Reach to={164}>
      <Flag x={164} text="farthest" />
    </Reach>
  ),
  working_distance: (
    <Reach>
      <Flag x={84} text="" />
      <path className="term-dimension" d="M50 92h34m-4 -3l4 3 -4 3M54 89l-4 3 4 3" />
      <Note x={96} y={110} text="from the front glass" />
    </Reach>
  ),
  depth_of_field: (
    <Reach from={112} to={172}>
      <Flag x={132} text="focus" />
      <path className="term-dimension" d="M112 92h60m-4 -3l4 3 -4 3M116 89l-4 3 4 3" />
      <Note x={142} y={108} text="looks sharp" />
    </Reach>
  ),
  past_infinity: (
    <Reach>
      <path className="term-mark" d="M226 52h18m-5 -4l5 4 -5 4" />
    </Reach>
  ),
  infinity_from: (
    <Drawn>
      <path className="term-ray" d="M40 26L196 66L40 106" />
      <path className="term-mark" d="M40 52L196 66L40 80" />
      <path className="term-sensor" d="M182 34v64" />
      <Note x={70} y={20} text="wide open: soft" />
      <Note x={80} y={126} text="stopped down: sharp" />
    </Drawn>
  ),
  greatest_magnification: (
    <Drawn>
      <path className="term-mark" d="M44 106V34m-5 8l5 -8 5 8" />
      <path className="term-ray" d="M44 34L196 84M44 106L196 48" />
      <path className="term-glass" d="M120 38q11 28 0 56q-11 -28 0 -56z" />
      <path className="term-sensor" d="M196 34v64" />
      <path className="term-mark" d="M206 48v36m-4 -6l4 6 4 -6" />
      <Note x={44} y={24} text="life" />
      <Note x={212} y={24} text="on the sensor" />
    </Drawn>
  ),
  depth_of_focus: (
    <Drawn>
      <path className="term-light" d="M30 30L170 66L30 102z" />
      <path className="term-light" d="M170 66L226 52V80z" />
      <path className="term-reach" d="M150 56h40v20h-40z" />
      <path className="term-sensor" d="M170 34v64" />
      <path className="term-dimension" d="M150 92h40m-4 -3l4 3 -4 3M154 89l-4 3 4 3" />
      <Note x={170} y={112} text="still sharp" />
    </Drawn>
  ),
  circle_of_confusion: (
    <Drawn>
      <path className="term-light" d="M30 30L190 66L30 102z" />
      <path className="term-sensor" d="M160 34v64" />
      <path className="term-mark thick" d="M160 59v14" />
      <Note x={196} y={50} text="this wide" />
    </Drawn>
  ),
  effective_aperture: (
    <Drawn>
      <path className="term-light" d="M50 24L210 66L50 108z" />
      <path className="term-mark thick" d="M50 14v10M50 108v10" />
      <path className="term-sensor" d="M210 40v52" />
      <path
        className="term-dimension"
        d="M50 122h160m-4 -3l4 3 -4 3M54 119l-4 3 4 3M40 24v84m-3 -4l3 4 3 -4M37 28l3 -4 3 4"
      />
    </Drawn>
  ),
  focus_throw: (
    <Drawn>
      <circle className="term-part" cx="125" cy="66" r="44" />
      <circle className="term-room" cx="125" cy="66" r="30" />
      <path className="term-mark" d="M88 38a46 46 0 1 1 -3 52m9 -2l-9 2 -3 -9" />
      <Note x={125} y={70} text="throw" />
    </Drawn>
  ),
  bayonet: (
    <Drawn>
      <circle className="term-part" cx="125" cy="66" r="46" />
      <path
        className="term-fill"
        d="M125 26a40 40 0 0 1 28 12l-7 7a30 30 0 0 0 -21 -9zM91 86a40 40 0 0 1 0 -40l9 5a30 30 0 0 0 0 30zM159 46a40 40 0 0 1 0 40l-9 -5a30 30 0 0 0 0 -30z"
      />
      <path className="term-mark" d="M70 30a66 66 0 0 1 30 -24m-8 0l8 0 -3 8" />
    </Drawn>
  ),
  breech_lock: (
    <Drawn>
      <circle className="term-fill" cx="125" cy="66" r="52" />
      <circle className="term-part" cx="125" cy="66" r="40" />
      <circle className="term-room" cx="125" cy="66" r="28" />
      <path className="term-mark" d="M62 30a70 70 0 0 1 30 -24m-8 0l8 0 -3 8" />
      <Note x={125} y={70} text="stands still" />
    </Drawn>
  ),
  thread: (
    <Drawn>
      <path className="term-part" d="M60 30h130v72H60z" />
      <path
        className="term-mark"
        d="M60 30l10 72M80 30l10 72M100 30l10 72M120 30l10 72M140 30l10 72M160 30l10 72M180 30l10 72"
      />
      <path
        className="term-dimension"
        d="M80 18h20m-4 -3l4 3 -4 3M84 15l-4 3 4 3M204 30v72m-3 -4l3 4 3 -4M201 34l3 -4 3 4"
      />
      <Note x={120} y={14} text="pitch" />
      <Note x={210} y={122} text="diameter" />
    </Drawn>
  ),
  index_mark: (
    <Drawn>
      <path className="term-part" d="M40 40h80v52H40zM134 30h76v72h-76z" />
      <circle className="term-fill" cx="110" cy="66" r="5" />
      <circle className="term-fill" cx="144" cy="66" r="5" />
      <path className="term-where" d="M110 66h34" />
    </Drawn>
  ),
};
