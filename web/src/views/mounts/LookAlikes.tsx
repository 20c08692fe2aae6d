import "./LookAlikes.css";

import type { SystemsReport } from "../../api/client";
import { mm, shortened } from "../../parts/format";

type LookAlike = SystemsReport["look_alikes"][number];
type System = SystemsReport["systems"][number];

// Pixels to a millimetre of the enlarged threads and of the registers beside them.
const THREAD = 13;
const PLAIN = 2.1;
const LONG = 12;

/** Systems that can be taken for one another, side by side, to scale. */
export function LookAlikes({ report }: { report: SystemsReport }) {
  const system = (id: string) => report.systems.find((each) => each.id === id);
  if (report.look_alikes.length === 0) return null;
  return (
    <section className="alikes">
      <h2>Look alike, and are not</h2>
      <ul>
        {report.look_alikes.map((pair) => {
          const [one, other] = [system(pair.one), system(pair.other)];
          return one && other ? (
            <li key={`${pair.one} ${pair.other}`} data-alike={pair.kind}>
              <Pair pair={pair} one={one} other={other} />
              <p>
                <strong>{`${one.name} and ${other.name}.`}</strong> {pair.text}
              </p>
            </li>
          ) : null;
        })}
      </ul>
    </section>
  );
}

function Pair({ pair, one, other }: { pair: LookAlike; one: System; other: System }) {
  const threaded = pair.one_pitch_mm !== null && pair.other_pitch_mm !== null;
  const width = 396;
  return (
    <svg
      className="alike"
      viewBox={`0 0 ${width} 104`}
      width={width}
      height={104}
      role="img"
      aria-label={`${one.name} beside ${other.name}, to scale`}
      data-scale={THREAD}
    >
      {([one, other] as const).map((system, index) => {
        const y = index ? 76 : 28;
        const pitch = index ? pair.other_pitch_mm : pair.one_pitch_mm;
        return (
          <g key={system.id}>
            {threaded && pitch !== null && (
              <>
                <path className="thread" d={profile(4, y, pitch, index === 0)} data-pitch={pitch} />
                <text x={8} y={index ? y + 24 : y - 15}>
                  {system.thread}
                </text>
              </>
            )}
            {system.register_mm !== null && (
              <path
                className="alike-register"
                d={`M${width - 8} ${y - 9}V${y + 9}M${width - 8} ${y}H${width - 8 - system.register_mm * PLAIN}m0 -9v18`}
              />
            )}
            <text x={width - 14} y={index ? y + 24 : y - 13} textAnchor="end">
              {`${shortened(system.name, 16)} ${system.register_mm === null ? "not known" : mm(system.register_mm)}`}
            </text>
          </g>
        );
      })}
      {threaded && <path className="thread-axis" d={`M4 52H${4 + LONG * THREAD}`} />}
    </svg>
  );
}

/** A thread in section, twelve millimetres of it: 60° flanks, teeth towards the other one. */
function profile(x: number, y: number, pitch: number, down: boolean): string {
  const depth = pitch * 0.54 * THREAD * (down ? 1 : -1);
  const base = y + (down ? 8 : -8);
  const count = Math.floor(LONG / pitch);
  const teeth = Array.from({ length: count }, (_, index) => {
    const start = x + index * pitch * THREAD;
    const [middle, end] = [start + (pitch * THREAD) / 2, start + pitch * THREAD];
    return `L${middle.toFixed(2)} ${(base + depth).toFixed(2)}L${end.toFixed(2)} ${base}`;
  });
  const end = x + count * pitch * THREAD;
  const back = base + (down ? -12 : 12);
  return `M${x} ${base}${teeth.join("")}L${end.toFixed(2)} ${back}L${x} ${back}Z`;
}
