import type { ReactNode } from "react";

import type { Word } from "../../api/client";
import { Drawn, Note } from "./Rig";

const [X, Y] = [125, 66];

function Face({ circle = 62, children }: { circle?: number; children?: ReactNode }) {
  return (
    <Drawn>
      <circle className="term-circle" cx={X} cy={Y} r={circle} />
      <path className="term-frame" d="M77 34h96v64H77z" />
      {children}
    </Drawn>
  );
}

/** What is told by the sensor as the lens sees it. */
export const FACE_TERMS: Partial<Record<Word, ReactNode>> = {
  image_circle: (
    <Face>
      <path className="term-dimension" d="M63 66h124m-4 -3l4 3 -4 3M67 63l-4 3 4 3" />
      <Note x={X} y={61} text="image circle" />
    </Face>
  ),
  coverage_margin: (
    <Face>
      <path className="term-mark" d="M173 34l4 -3M173 34m-2 -3h4v4" />
      <path className="term-dimension" d="M125 66L173 34" strokeDasharray="3 3" />
      <path className="term-mark thick" d="M173 34L177 31.5" />
      <Note x={212} y={30} text="margin" />
    </Face>
  ),
  greatest_rise: (
    <Drawn>
      <circle className="term-circle" cx={X} cy={Y} r="62" />
      <path className="term-where" d="M89 42h72v48H89z" />
      <path className="term-frame" d="M89 18h72v48H89z" />
      <path className="term-mark" d="M170 66V42m-4 5l4 -5 4 5" />
      <Note x={206} y={58} text="rise" />
    </Drawn>
  ),
  crop_factor: (
    <Drawn>
      <path className="term-where" d="M71 30h108v72H71z" />
      <path className="term-frame" d="M89 42h72v48H89z" />
      <path className="term-dimension" d="M71 102L179 30" strokeDasharray="3 3" />
      <path className="term-mark" d="M89 90L161 42" />
      <Note x={X} y={122} text="diagonal by diagonal" />
    </Drawn>
  ),
  full_frame_equivalent: (
    <Drawn>
      <path className="term-body" d="M20 50h26v32H20zM130 42h34v48h-34z" />
      <path className="term-ray" d="M33 66L104 44M33 66L104 88M147 66L232 40M147 66L232 92" />
      <path className="term-frame" d="M104 44v44M232 40v52" />
      <Note x={62} y={116} text="this one" />
      <Note x={190} y={116} text="frames as on full frame" />
    </Drawn>
  ),
  squeeze: (
    <Drawn>
      <path className="term-frame" d="M26 42h60v48H26z" />
      <ellipse className="term-mark" cx="56" cy="66" rx="10" ry="18" />
      <path className="term-mark" d="M98 66h16m-5 -4l5 4 -5 4" />
      <path className="term-frame" d="M126 42h108v48H126z" />
      <circle className="term-mark" cx="180" cy="66" r="18" />
      <Note x={56} y={110} text="on the sensor" />
      <Note x={180} y={110} text="desqueezed" />
    </Drawn>
  ),
  stabiliser_travel: (
    <Face circle={70}>
      <path className="term-where" d="M69 28h96v64H69zM85 40h96v64H85z" />
      <path className="term-mark" d="M117 60l16 12m-6 0h6v-6M123 60h-6v6" />
    </Face>
  ),
};
