import "./Photo.css";

import { type CSSProperties, useEffect, useState } from "react";
import { Plain } from "./Plain";

interface Side {
  url: string;
  /** The same with fewer pixels, for as long as no picture is there at all. */
  draft?: string;
  says: string;
  label: string;
}

interface Props {
  one: Side;
  other: Side | null;
  /** Width over height of the picture. */
  shape: number;
  /** Nobody knows where the light ends: what may be dark is hatched. */
  circleUnknown: boolean;
  /** Called once something is to be seen: what else the server is asked can wait for it. */
  onShown?: () => void;
}

/** The picture stays until the next one is there; before the first comes its draft, by itself. */
function useLoaded({ url, draft = url }: Side): [shown: string, failed: boolean] {
  const [shown, setShown] = useState("");
  const [failed, setFailed] = useState("");
  const asked = shown === "" && failed === "" ? draft : url;
  useEffect(() => {
    const image = new Image();
    let wanted = true;
    image.src = asked;
    image.decode().then(
      () => {
        if (wanted) setShown(asked);
      },
      () => {
        if (wanted) setFailed(asked);
      },
    );
    return () => {
      wanted = false;
    };
  }, [asked]);
  return [shown, failed === url];
}

/** What the sensor would record; with another side, a divider between the two. */
export function Photo({ one, other, shape, circleUnknown, onShown }: Props) {
  const [divide, setDivide] = useState(50);
  // On a phone there is no room for a divider: one or the other.
  const [flipped, setFlipped] = useState(false);
  const [shown, failed] = useLoaded(one);
  const there = shown !== "" || failed;
  useEffect(() => {
    if (there) onShown?.();
  }, [there, onShown]);
  const style = { "--shape": String(shape), "--divide": `${divide}%` } as CSSProperties;
  return (
    <figure className="photo" style={style} data-picture={shown} data-flipped={flipped}>
      {failed && <p role="alert">The picture could not be made. Change a setting, or load the page again.</p>}
      {shown && <img src={shown} alt={one.says} />}
      {other && <OtherSide side={other} />}
      {circleUnknown && <div className="photo-unknown" title="it may be dark here" />}
      {other && (
        <>
          <span className="photo-label first">{one.label}</span>
          <span className="photo-label second">{other.label}</span>
          <input
            type="range"
            className="photo-divider"
            min={0}
            max={100}
            step={2}
            value={divide}
            aria-label="Where one picture ends and the other begins"
            onChange={(event) => setDivide(Number(event.target.value))}
          />
          <Plain
            className="photo-toggle"
            onClick={() => setFlipped(!flipped)}
          >{`Show ${flipped ? one.label : other.label}`}</Plain>
        </>
      )}
    </figure>
  );
}

function OtherSide({ side }: { side: Side }) {
  const [shown] = useLoaded(side);
  return shown ? <img className="photo-other" src={shown} alt={side.says} data-picture={shown} /> : null;
}
