import type { MatchReport } from "../../api/client";
import { usePractices } from "../../app/Practices";
import type { Address, Change } from "../../app/useAddress";
import { GradeMark } from "../../drawing/GradeMark";
import { sceneApart } from "../../drawing/scene";
import { Sheet } from "../../drawing/Sheet";
import { unbroken } from "../../parts/format";
import { ChainEditor } from "./ChainEditor";
import { WouldNeed } from "./More";
import { viaOf } from "../../parts/rig";

interface Props {
  report: MatchReport;
  address: Address;
  go: (change: Change) => void;
  building: boolean;
  onBuild: (building: boolean) => void;
}

/** Nothing joins the two: the ring that is missing, and what would have to exist. */
export function Nothing({ report, address, go, building, onBuild }: Props) {
  const { start } = usePractices();
  return (
    <>
      <div className="sheet" data-state="nothing-fits">
        <div className="sentence" aria-live="polite">
          <GradeMark grade="none" size={44} />
          <h1>{unbroken(report.sentence)}</h1>
        </div>
        <Sheet
          subjects={start.subjects}
          scene={sceneApart(report)}
          units={address.practice.distances}
          sentence={report.sentence}
        />
      </div>
      <div className="below">
        <section className="below-routes">
          <h2>What would have to exist</h2>
          <WouldNeed report={report} />
        </section>
        <section className="below-camera">
          <h2>Or by hand</h2>
          <ChainEditor
            report={report}
            adapters={[]}
            open={building}
            onOpen={onBuild}
            onChange={(adapters) => go({ via: viaOf(adapters) })}
          />
        </section>
      </div>
    </>
  );
}
