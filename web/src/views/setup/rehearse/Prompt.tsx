import Button from "antd/es/button";
import InputNumber from "antd/es/input-number";
import { useState } from "react";

import type { CameraState } from "../../../api/client";
import type { Do } from "./useCamera";

interface Props {
  prompt: NonNullable<CameraState["prompt"]>;
  act: Do;
}

/** What the body asks at power-on: the last lens's focal length is offered, and wants to be changed. */
export function Prompt({ prompt, act }: Props) {
  const [typed, setTyped] = useState<number | null>(prompt.offered_mm);
  return (
    <form
      className="camera-prompt"
      aria-label="Asked at power-on"
      onSubmit={(event) => {
        event.preventDefault();
        if (typed !== null) act("prompt", typed === prompt.offered_mm ? "confirm" : typed);
      }}
    >
      <p>{`Focal length of this lens? The last one had ${prompt.offered_mm} mm.`}</p>
      <p>
        <InputNumber
          min={0.1}
          max={10000}
          value={typed}
          onChange={setTyped}
          aria-label="Focal length in mm"
          suffix="mm"
        />
        <Button htmlType="submit" type="primary">
          {typed === prompt.offered_mm ? "Confirm" : "Change"}
        </Button>
        <Button onClick={() => act("prompt", "dismiss")}>Dismiss</Button>
      </p>
    </form>
  );
}
