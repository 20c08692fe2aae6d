import type { ReactNode } from "react";

import type { Word } from "../../api/client";
import { Across, Along, Note, Rig, SENSOR, SEAT } from "./Rig";

const RING = SEAT.lens - SEAT.body;

/** What is told by a lens, an adapter and a body cut open; the part that is meant is drawn in ink. */
export const RIG_TERMS: Partial<Record<Word, ReactNode>> = {
  flange_focal_distance: (
    <Rig>
      <Along from={SEAT.lens} to={SENSOR} y={14} text="the lens’s" />
      <Along from={SEAT.body} to={SENSOR} y={113} text="the body’s" />
    </Rig>
  ),
  flange_error: (
    <Rig moved={-9}>
      <path className="term-where" d={`M${SEAT.lens} 26V106`} />
      <Along from={SEAT.lens - 9} to={SEAT.lens} y={16} text="too far" out />
    </Rig>
  ),
  gap: (
    <Rig ghost>
      <Along from={SEAT.lens} to={SEAT.body} y={14} text="room" out />
    </Rig>
  ),
  adapter_length: (
    <Rig ring>
      <Along from={SEAT.lens} to={SEAT.body} y={14} text="length" out />
    </Rig>
  ),
  lens_mount: (
    <Rig ring>
      <path className="term-mark" d={`M${SEAT.lens} 26V106`} />
      <Note x={SEAT.lens} y={18} text="lens mount" />
    </Rig>
  ),
  camera_mount: (
    <Rig ring>
      <path className="term-mark" d={`M${SEAT.body} 26V106`} />
      <Note x={SEAT.body} y={18} text="camera mount" />
    </Rig>
  ),
  throat: (
    <Rig>
      <Across x={SEAT.body + 8} half={30} text="throat" />
    </Rig>
  ),
  bore: (
    <Rig ring>
      <Across x={(SEAT.lens + SEAT.body) / 2 + 6} half={27} text="bore" />
    </Rig>
  ),
  rear_protrusion: (
    <Rig rear>
      <Along from={SEAT.lens} to={SEAT.lens + 16} y={14} text="protrusion" out />
    </Rig>
  ),
  obstruction: (
    <Rig>
      <path className="term-mark block" d={`M${SENSOR - 26} 38h10v56h-10z`} />
      <Along from={SEAT.body} to={SENSOR - 26} y={118} text="free" />
    </Rig>
  ),
  tolerance: (
    <Rig>
      <path className="term-band" d={`M${SEAT.lens - 6} 26h12v80h-12z`} />
      <Note x={SEAT.lens} y={18} text="± tolerance" />
    </Rig>
  ),
  mount_play: (
    <Rig>
      <path
        className="term-mark"
        d={`M${SEAT.lens - 5} 24q-8 -9 -20 -7m6 -5l-6 5 5 6M${SEAT.lens - 5} 108q-8 9 -20 7m6 5l-6 -5 5 -6`}
      />
      <path className="term-mark" d={`M${SEAT.lens} 26V106`} />
    </Rig>
  ),
  mount_load: (
    <Rig>
      <path className="term-mark" d="M66 66v46m-5 -8l5 8 5 -8" />
      <Along from={66} to={SEAT.lens} y={14} text="lever" />
      <Note x={66} y={126} text="weight" />
    </Rig>
  ),
  centre_of_mass: (
    <Rig>
      <circle className="term-mark" cx="66" cy="66" r="8" />
      <path className="term-fill" d="M66 66v-8a8 8 0 0 1 8 8zM66 66v8a8 8 0 0 1 -8 -8z" />
      <Along from={66} to={SEAT.lens} y={14} text="before the mount face" />
    </Rig>
  ),
  foil: (
    <Rig ring>
      <path className="term-mark thick" d={`M${SEAT.lens - RING / 2} 30v8M${SEAT.lens - RING / 2} 94v8`} />
      <Note x={SEAT.lens - RING / 2} y={18} text="shim" />
    </Rig>
  ),
  exit_pupil: (
    <Rig light>
      <ellipse className="term-mark" cx="84" cy="66" rx="4" ry="15" />
      <Along from={84} to={SENSOR} y={14} text="from the sensor" />
    </Rig>
  ),
  corner_rays: (
    <Rig>
      <path className="term-ray" d={`M84 66L${SENSOR} 42`} />
      <path className="term-mark" d={`M${SENSOR - 44} 66a44 44 0 0 1 3 -16`} />
      <Note x={SENSOR - 62} y={62} text="angle" />
    </Rig>
  ),
  helicoid: (
    <Rig moved={-16} ring>
      <path className="term-mark" d={`M${SEAT.lens - 16} 34h16M${SEAT.lens - 16} 98h16`} strokeDasharray="3 2" />
      <Along from={SEAT.lens - 16} to={SEAT.lens} y={14} text="opened" out />
    </Rig>
  ),
  plain_adapter: <Rig ring />,
  active_adapter: (
    <Rig ring>
      <Wire to={SEAT.lens - 8} />
    </Rig>
  ),
  chip: (
    <Rig ring>
      <Wire to={SEAT.body - 14} />
      <path className="term-chip" d={`M${SEAT.body - 22} 97h10v8h-10z`} />
      <Note x={SEAT.body - 18} y={120} text="chip" />
    </Rig>
  ),
  protocol: (
    <Rig>
      <Wire to={SEAT.lens - 8} />
    </Rig>
  ),
  by_wire: (
    <Rig>
      <path className="term-mark" d="M52 26h14v8H52zM52 98h14v8H52z" />
      <path className="term-wire" d={`M59 98V80M59 80H${SEAT.body + 10}`} strokeDasharray="4 3" />
    </Rig>
  ),
  focal_reducer: (
    <Rig ring>
      <Glass bulging />
      <path
        className="term-ray"
        d={`M84 51L${SEAT.body - 16} 46L${SENSOR} 56M84 81L${SEAT.body - 16} 86L${SENSOR} 76`}
      />
    </Rig>
  ),
  correcting_glass: (
    <Rig ring>
      <Glass bulging={false} />
      <path
        className="term-ray"
        d={`M84 51L${SEAT.body - 16} 55L${SENSOR} 40M84 81L${SEAT.body - 16} 77L${SENSOR} 92`}
      />
    </Rig>
  ),
  shift: (
    <Rig raised={-12}>
      <path className="term-where" d={`M20 66H${SENSOR + 8}`} />
      <path className="term-mark" d="M30 66V54m-4 5l4 -5 4 5" />
    </Rig>
  ),
  tilt: (
    <Rig turned={-9}>
      <path className="term-where" d={`M20 66H${SENSOR + 8}`} />
      <path className="term-mark" d="M22 66q-2 12 2 22m-6 -5l6 5 3 -7" />
    </Rig>
  ),
  diaphragm_pin: (
    <Rig>
      <path className="term-mark thick" d={`M${SEAT.lens - 6} 88h16`} />
      <path className="term-mark" d={`M${SEAT.lens + 34} 88h-18m6 -4l-6 4 6 4`} />
      <Note x={SEAT.lens + 30} y={120} text="pin, pressed" />
    </Rig>
  ),
  aperture_lever: (
    <Rig>
      <path className="term-mark thick" d={`M${SEAT.lens - 6} 44h14v10`} />
      <path className="term-mark" d={`M${SEAT.lens + 20} 42v16m-4 -5l4 5 4 -5`} />
      <Note x={SEAT.lens + 24} y={18} text="lever, moved" />
    </Rig>
  ),
};

function Wire({ to }: { to: number }) {
  return (
    <>
      <path className="term-wire" d={`M${SENSOR - 6} 101H${to}`} />
      <circle className="term-wire-end" cx={to} cy="101" r="3" />
    </>
  );
}

function Glass({ bulging }: { bulging: boolean }) {
  const x = SEAT.body - 16;
  return (
    <path
      className="term-glass"
      d={bulging ? `M${x} 38q11 28 0 56q-11 -28 0 -56z` : `M${x - 6} 38h12q-8 28 0 56h-12q8 -28 0 -56z`}
    />
  );
}
