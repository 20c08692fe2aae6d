import type { RefSelectProps } from "antd/es/select";
import type { RefObject } from "react";

import { Picker } from "./Picker";

type Named = { id: string; name: string } | null;

interface Props {
  lens: Named;
  body: Named;
  lensPicker: RefObject<RefSelectProps | null>;
  bodyPicker: RefObject<RefSelectProps | null>;
  onPick: (kind: "lens" | "body", id: string | null) => void;
}

/** The pair, in the header: the lens above its end, the body above the sensor's. */
export function Pickers({ lens, body, lensPicker, bodyPicker, onPick }: Props) {
  return (
    <>
      <Picker kind="lens" value={lens} picker={lensPicker} onPick={(id) => onPick("lens", id)} />
      <Picker kind="body" value={body} picker={bodyPicker} onPick={(id) => onPick("body", id)} />
    </>
  );
}
