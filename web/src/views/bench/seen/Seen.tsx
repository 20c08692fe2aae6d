import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import Button from "antd/es/button";

import {
  differencesQuery,
  type RigQuery,
  type RigSeen,
  type SeenReport,
  seenQuery,
  trialsQuery,
} from "../../../api/benchQueries";
import { client, unwrap } from "../../../api/client";
import { historyQuery } from "../../../api/queries";
import { ErrorStrip } from "../../../drawing/bench/ErrorStrip";
import { Failed } from "../../../parts/Failed";
import { today, unbroken } from "../../../parts/format";
import { Refused } from "../../../parts/Refused";
import { NeedsPair } from "../NeedsPair";
import { useKept } from "../useKept";
import type { RigProps } from "../useRig";
import { Answered } from "./Answered";
import { ByDifference } from "./ByDifference";
import { Sights } from "./Sights";
import { Trials } from "./Trials";

const EMPTY: RigSeen = { saw: [], nameless: false, past_infinity: true, foils: null };

/** From what is seen to what is wrong: the error, what contradicts, which piece, what to do. */
export default function Seen({ rig }: RigProps) {
  if (rig.query === null) return <NeedsPair rig={rig} what="What do you see" />;
  return <OnBench key={JSON.stringify(rig.query)} query={rig.query} />;
}

function OnBench({ query }: { query: RigQuery }) {
  const queries = useQueryClient();
  const [seen, setSeen] = useKept<RigSeen>(`seen ${query.lens} ${query.body} ${query.via ?? ""}`, EMPTY);
  const found = useQuery(seenQuery(query, seen));
  const keep = useMutation({
    mutationFn: async () =>
      unwrap(
        await client.POST("/api/v1/bench/trials", {
          params: { query },
          body: { ...seen, day: today(), answers: [], note: "" },
        }),
      ),
    onSuccess: async (trials) => {
      queries.setQueryData(trialsQuery(query).queryKey, trials);
      await queries.invalidateQueries({ queryKey: differencesQuery(query).queryKey });
      await queries.invalidateQueries({ queryKey: historyQuery.queryKey });
    },
  });
  if (found.error && !found.data) return <Failed error={found.error} onRetry={() => void found.refetch()} />;
  if (!found.data) return <div className="sheet skeleton" aria-busy="true" />;
  const { report, sights } = found.data;
  const nameOf = (kind: string) => sights.find((one) => one.kind === kind)?.short ?? kind;
  const told = report.together !== null && report.observations.some((one) => one.form !== null);
  return (
    <>
      <div className="sheet bench-sheet">
        <div className="screen-head" aria-live="polite">
          <h1 data-seen={found.isFetching ? undefined : report.says}>{unbroken(report.says)}</h1>
          <p className={contradicted(report) ? "warning" : ""}>{unbroken(report.more || lookOf(report.next_says))}</p>
        </div>
        <ErrorStrip report={report} nameless={seen.nameless} nameOf={nameOf} />
      </div>
      <div className="below bench-below">
        <div>
          <Sights sights={sights} report={report} seen={seen} onChange={setSeen} />
          <Button
            disabled={!told || found.isFetching}
            loading={keep.isPending}
            onClick={() => keep.mutate()}
            data-action="keep-trial"
          >
            Keep this as a trial
          </Button>
          {keep.error && <Refused error={keep.error} />}
          <Trials query={query} />
        </div>
        <div>
          <Answered report={report} seen={seen} onChange={setSeen} />
          <ByDifference query={query} />
        </div>
      </div>
    </>
  );
}

const contradicted = ({ together }: SeenReport) =>
  together !== null && (together.most_at_odds !== null || together.both_at_odds);
const lookOf = (look: string) => (look === "" ? "" : `Look at next: ${look}`);
