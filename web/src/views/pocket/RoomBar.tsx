import "./RoomBar.css";

interface Props {
  lensRegister: number | null;
  bodyRegister: number | null;
  room: number | null;
}

/** Millimetres that the drawing is wide. */
const WIDTH_MM = 76;
const SENSOR = 74;

/** Both registers from the sensor plane, to scale: what is left between them is the ring. */
export function RoomBar({ lensRegister, bodyRegister, room }: Props) {
  if (lensRegister === null || bodyRegister === null || room === null)
    return <p className="room-unknown">The distance of one of them is not known: nobody can say what room there is.</p>;
  const [lens, body] = [SENSOR - lensRegister, SENSOR - bodyRegister];
  const said = room > 0 ? `${room.toFixed(2)} mm for a ring` : room < 0 ? `${(-room).toFixed(2)} mm lacking` : "no gap";
  return (
    <figure className="room">
      <svg
        className="room-bar"
        viewBox={`0 0 ${WIDTH_MM} 15`}
        role="img"
        aria-label={`From the sensor to the camera’s mount ${bodyRegister.toFixed(2)} mm, to the lens’s ${lensRegister.toFixed(2)} mm: ${said}`}
      >
        <path className="room-sensor" d={`M${SENSOR} 1v13`} />
        <path className="room-body" d={`M${body} 3h${bodyRegister}v9h${-bodyRegister}z`} />
        {room !== 0 && (
          <path
            className={room > 0 ? "room-ring" : "room-lacks"}
            d={`M${Math.min(lens, body)} 3h${Math.abs(room)}v9h${-Math.abs(room)}z`}
          />
        )}
        <path className="room-seat" d={`M${lens} 1v13`} />
        <path className="room-lens" d={`M${Math.max(0, lens - 10)} 4.5H${lens}v6H${Math.max(0, lens - 10)}z`} />
      </svg>
      <figcaption>{said}</figcaption>
    </figure>
  );
}
