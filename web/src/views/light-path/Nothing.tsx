import { useQuery } from "@tanstack/react-query";

import { distanceQuery } from "../../api/queries";
import type { MatchReport } from "../../api/client";
import { usePractices } from "../../app/Practices";
import type { Address, Change } from "../../app/useAddress";
import { GradeMark, UnknownMark } from "../../drawing/GradeMark";
import { sceneApart } from "../../drawing/scene";
import { Sheet } from "../../drawing/Sheet";
import { DistanceRange } from "../../parts/DistanceRange";
import { unbroken } from "../../parts/format";
import { ByHand } from "./ByHand";
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
export default function Nothing({ report, address, go, building, onBuild }: Props) {
  const { start } = usePractices();
  const unknown = report.gap_mm === null;
  const pair = { lens: report.lens, body: report.body, practice: address.practice };
  const range = useQuery({ ...distanceQuery(pair), enabled: unknown });
  const lensUnknown = report.pieces[report.lens]?.register_mm === null;
  const mayStand = lensUnknown ? range.data?.may_be.map((one) => one.register_mm) : undefined;
  return (
    <>
      <div className="sheet" data-state="nothing-fits">
        <div className="sentence" aria-live="polite">
          {unknown ? <UnknownMark size={44} /> : <GradeMark grade="none" size={44} />}
          <h1>{unbroken(report.sentence)}</h1>
        </div>
        <Sheet
          subjects={start.subjects}
          scene={sceneApart(report, mayStand)}
          units={address.practice.distances}
          sentence={report.sentence}
        />
      </div>
      {unknown && <DistanceRange {...pair} />}
      <div className="below">
        {report.would_need.length > 0 && (
          <section className="below-routes">
            <h2>What would have to exist</h2>
            <WouldNeed report={report} />
          </section>
        )}
        <section className="below-camera">
          <h2>Or by hand</h2>
          <ByHand
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
