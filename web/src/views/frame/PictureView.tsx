import "./Frame.css";

import Button from "antd/es/button";
import { type ReactNode, useCallback } from "react";
import { Link, useNavigate } from "react-router";

import { ProblemError } from "../../api/client";
import { withPair } from "../../app/navigation";
import { usePractices } from "../../app/Practices";
import { type Address, useAddress } from "../../app/useAddress";

import { useChange, type Words } from "../../app/useChange";
import { Failed } from "../../parts/Failed";
import { ANOTHER } from "./another";
import { Coverage } from "./Coverage";
import { Depths } from "./Depths";
import { HELP } from "./help";
import { SCENES, type Settings, settingsIn, written } from "./settings";
import { Sheet } from "./Sheet";
import { ShiftTilt } from "./ShiftTilt";
import { useFrame } from "./useFrame";
import { useFrameScreen } from "./useFrameScreen";
import { FrameViews } from "./FrameViews";

/** What the sensor would record with this rig, and every number beside it. */
export function PictureView() {
  const [address] = useAddress();
  const [words, change] = useChange();
  const { usual } = usePractices();
  const frame = useFrame(address, words);
  const set = useCallback((next: Settings, replace = false) => change(next, replace), [change]);
  const path = withPair("/", words.toString(), Object.keys(usual));
  const { error, missing } = useScreenOf({ address, words, frame, set, change, path });
  const { report } = frame;
  const failure = frame.error ?? error;
  let content: ReactNode = <div className="skeleton" />;
  if (failure) {
    content = (
      <NotPossible
        error={failure}
        onRetry={() => void frame.frame.refetch()}
        onReset={() => change({ ...ANOTHER, via: address.via }, false)}
      />
    );
  } else if (missing) {
    content = (
      <div className="message" data-state="no-pair">
        <h1>{`Which ${missing}?`}</h1>
        <p>A frame needs a lens and a body. Pick them above.</p>
      </div>
    );
  } else if (frame.nothingFits !== null) {
    content = (
      <div className="message" data-state="nothing-fits">
        <h1>{frame.nothingFits}</h1>
        <p className="message-actions">
          <Link to={path}>What would have to exist</Link>
        </p>
      </div>
    );
  } else if (report) {
    content = (
      <>
        <FrameViews />
        <Sheet frame={frame} report={report} path={path} onSet={set} onVersus={(vs) => change({ vs }, false)} />
        <div className="below">
          <div>
            <Coverage report={report} onMode={(mode) => set({ mode })} />
            <Depths report={report} practice={address.practice} />
          </div>
          <ShiftTilt report={report} onChange={set} />
        </div>
      </>
    );
  }
  return content;
}

interface ScreenProps {
  address: Address;
  words: URLSearchParams;
  frame: ReturnType<typeof useFrame>;
  set: (next: Settings, replace?: boolean) => void;
  change: (next: Words, replace?: boolean) => void;
  path: string;
}

/** Title, keys and pickers of the screen. */
function useScreenOf({ address, words, frame, set, change, path }: ScreenProps) {
  const navigate = useNavigate();
  const { report, settled } = frame;
  const stop = (by: number) => {
    const stops = report?.f_numbers ?? [];
    const next = stops[stops.indexOf(report?.f_number ?? 0) + by];
    if (next !== undefined) set({ n: String(next) });
  };
  const said = written(settingsIn(words));
  return useFrameScreen({
    address,
    change,
    names: report?.names ?? {},
    title: "Frame",
    answer: settled ? `frame ${address.lens ?? ""} ${address.body ?? ""} ${said}` : undefined,
    waiting: !settled && frame.both && !frame.error && frame.nothingFits === null,
    help: HELP,
    keys: {
      g: () => void navigate(path),
      v: () => set({ up: report?.upright ? "" : "1" }),
      "[": () => stop(-1),
      "]": () => stop(1),
      ...Object.fromEntries(
        SCENES.map(([scene], index) => [String(index + 1), () => set({ scene, at: "", subject: "" })]),
      ),
    },
  });
}

interface NotPossibleProps {
  error: Error;
  onRetry: () => void;
  onReset: () => void;
}

/** A setting that the rig has not leads back; anything else is tried again. */
function NotPossible({ error, onRetry, onReset }: NotPossibleProps) {
  if (!(error instanceof ProblemError) || error.problem.type !== "invalid")
    return <Failed error={error} onRetry={onRetry} />;
  return (
    <div className="message" role="alert" data-state="not-possible">
      <h1>{error.problem.detail}</h1>
      <p className="message-actions">
        <Button type="primary" onClick={onReset}>
          Set it as usual
        </Button>
      </p>
    </div>
  );
}
