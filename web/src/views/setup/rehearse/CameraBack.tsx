import Button from "antd/es/button";
import type { CSSProperties } from "react";

import type { CameraReport, CameraState } from "../../../api/client";
import type { CameraQuery } from "../../../api/queries";
import { Finder } from "./Finder";
import { Menu } from "./Menu";
import { Prompt } from "./Prompt";
import type { Do } from "./useCamera";
import { Plain } from "../../../parts/Plain";

interface Props {
  report: CameraReport;
  state: CameraState;
  query: CameraQuery;
  named: string;
  act: Do;
}

// A body whose size nobody measured is drawn as wide for its height as this.
const USUAL_SHAPE = 1.4;

/** The back of the body, in its own proportions: switches on the top, finder, buttons; its menus below. */
export function CameraBack({ report, state, query, named, act }: Props) {
  const { controls } = report;
  const { width_mm: width, height_mm: height } = controls;
  const shape = width && height ? width / height : USUAL_SHAPE;
  return (
    <div className="camera" data-power={state.power}>
      <AtTheMount rig={report.rig} state={state} named={named} act={act} />
      <div className="camera-back" style={{ "--camera-shape": String(shape) } as CSSProperties}>
        <Top report={report} state={state} act={act} />
        <div className="camera-middle">
          <div className="camera-screen">
            <Finder state={state} controls={controls} query={query} />
            {state.prompt && <Prompt prompt={state.prompt} key={state.prompt.offered_mm} act={act} />}
          </div>
          <Buttons report={report} state={state} act={act} />
        </div>
      </div>
      <Menu report={report} state={state} act={act} />
    </div>
  );
}

interface MountProps {
  rig: string | null;
  state: CameraState;
  named: string;
  act: Do;
}

/** What is done before the camera: the swap, the ring of the lens, its iris. */
function AtTheMount({ rig, state, named, act }: MountProps) {
  const { attached } = state;
  // What was rehearsed before on this body may stand on it still.
  const on = attached?.rig === rig;
  return (
    <div className="camera-mount" role="group" aria-label="At the mount">
      <Button type={on ? "default" : "primary"} onClick={() => act("attach")} disabled={on}>
        {on ? `${named} is on` : `Swap: put ${named} on`}
      </Button>
      {attached?.focused_by === "hand" && (
        <Button onClick={() => act("focus")}>
          {state.focused_with ? "Turn the ring again" : "Turn the ring until it is sharp"}
        </Button>
      )}
      {attached?.iris === "by_hand" && (
        <Button
          aria-pressed={state.iris === "taking"}
          onClick={() => act("iris", state.iris === "open" ? "taking" : "open")}
        >
          {state.iris === "open" ? "Stop down" : "Open the aperture"}
        </Button>
      )}
    </div>
  );
}

type Part = Pick<Props, "report" | "state" | "act">;

const EXPOSURE: Record<string, string> = { P: "program", A: "aperture", S: "shutter", M: "manual" };

function Top({ report, state, act }: Part) {
  const { controls } = report;
  return (
    <div className="camera-top">
      {controls.battery && (
        <Plain
          role="switch"
          aria-checked={state.power}
          className="camera-switch"
          onClick={() => act("power", !state.power)}
        >
          {state.power ? "on" : "off"}
          <span className="unseen"> power</span>
        </Plain>
      )}
      {controls.exposure_modes.length > 0 && (
        <div className="camera-dial" role="radiogroup" aria-label="Exposure">
          {controls.exposure_modes.map((mode) => (
            <Plain
              key={mode}
              role="radio"
              aria-checked={state.exposure === mode}
              aria-label={EXPOSURE[mode] ?? mode}
              title={EXPOSURE[mode] ?? mode}
              onClick={() => act("exposure", mode)}
            >
              {mode}
            </Plain>
          ))}
        </div>
      )}
      {controls.turns_to_film && (
        <div className="camera-dial" role="radiogroup" aria-label="Stills or film">
          {(["still", "film"] as const).map((use) => (
            <Plain key={use} role="radio" aria-checked={state.use === use} onClick={() => act("use", use)}>
              {use === "still" ? "stills" : "film"}
            </Plain>
          ))}
        </div>
      )}
      <Plain className="camera-release" onClick={() => act("release")}>
        Release
      </Plain>
    </div>
  );
}

function Buttons({ report, state, act }: Part) {
  const { magnifier_levels: levels, magnifier_leave: leave, peaking, magnifier } = report.controls;
  const steps = levels.length > 0 ? levels : [MAGNIFIED];
  const at = steps.indexOf(state.magnifier);
  const next = steps[at + 1] ?? 0;
  return (
    <div className="camera-buttons">
      {magnifier && (
        <Plain aria-pressed={state.magnifier > 0} onClick={() => act("magnifier", next)} title={leave}>
          {state.magnifier > 0 ? (next > 0 ? `${next} ×` : "leave") : "magnifier"}
        </Plain>
      )}
      {peaking && (
        <Plain aria-pressed={state.peaking} onClick={() => act("peaking", !state.peaking)}>
          peaking
        </Plain>
      )}
    </div>
  );
}

// A magnifier whose steps nobody stated.
const MAGNIFIED = 5;
