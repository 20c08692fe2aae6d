import "./Rehearse.css";

import { Failed } from "../../../parts/Failed";
import type { CameraQuery } from "../../../api/queries";
import { CameraBack } from "./CameraBack";
import { RehearsedCard } from "./RehearsedCard";
import { useCamera } from "./useCamera";

interface Props {
  query: CameraQuery;
  /** What the rig is called. */
  named: string;
  /** The rig's name for whoever waits for it. */
  answer: string;
}

/** A camera to rehearse on, and the card beside it. */
export function Rehearse({ query, named, answer }: Props) {
  const { report, error, again, act } = useCamera(query);
  if (error) return <Failed error={error} onRetry={again} />;
  if (!report) return <div className="sheet skeleton" aria-busy="true" />;
  if (!report.state || !report.rehearsal) {
    return (
      <div className="message" data-state="not-to-rehearse">
        <h1>{report.says}</h1>
        <p>A rig that must not be put together is not rehearsed.</p>
      </div>
    );
  }
  const { state, rehearsal } = report;
  const next = rehearsal.steps.find(({ number }) => number === rehearsal.next);
  return (
    <div className="rehearsal" data-camera={answer} data-passed={rehearsal.passed}>
      <div className="sheet rehearsal-sheet">
        <div className="screen-head" aria-live="polite">
          <h1 data-says>{report.says ? `It does not: ${report.says}.` : rehearsal.says}</h1>
          <p>
            {`${report.controls.name}, as the last lens left it. `}
            Only a rehearsal: your own camera may word its menus otherwise.
          </p>
          {next && <p className="rehearsal-next">{`Next, ${next.number}: ${next.text}`}</p>}
        </div>
        <CameraBack report={report} state={state} query={query} named={named} act={act} />
      </div>
      <RehearsedCard rehearsal={rehearsal} onAgain={() => act("begin")} />
    </div>
  );
}
