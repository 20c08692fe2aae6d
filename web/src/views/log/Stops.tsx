import { Plain } from "../../parts/Plain";

interface Props {
  stops: readonly number[];
  assumed: boolean;
  last: number | null;
  doing: string;
  onStop: (stop: number | null) => void;
}

const SIDE = 26;

/** The stops of a lens's ring, each with its opening to one scale: a tap logs a frame at it. */
export function Stops({ stops, assumed, last, doing, onStop }: Props) {
  const widest = stops[0] ?? 1;
  return (
    <>
      <div className="stops" role="group" aria-label={doing}>
        {stops.map((stop) => (
          <Plain
            key={stop}
            className="stop"
            aria-current={stop === last || undefined}
            aria-label={`${doing} at f/${stop}`}
            onClick={() => onStop(stop)}
          >
            <svg viewBox={`0 0 ${SIDE} ${SIDE}`} width={SIDE} height={SIDE} aria-hidden="true">
              <circle className="stop-barrel" cx={SIDE / 2} cy={SIDE / 2} r={SIDE / 2 - 1} />
              <circle className="stop-opening" cx={SIDE / 2} cy={SIDE / 2} r={((SIDE / 2 - 3) * widest) / stop} />
            </svg>
            <span>{stop}</span>
          </Plain>
        ))}
        <Plain className="stop stop-none" aria-label={`${doing}, aperture not noted`} onClick={() => onStop(null)}>
          <span>not noted</span>
        </Plain>
      </div>
      {assumed && (
        <p className="log-hint">Nobody noted the stops on its ring: these are whole stops between its ends.</p>
      )}
    </>
  );
}
