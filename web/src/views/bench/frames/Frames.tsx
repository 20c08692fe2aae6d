import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import Button from "antd/es/button";

import { type CauseReport, causesQuery, type RigQuery, trialsQuery } from "../../../api/benchQueries";
import { client, unwrap } from "../../../api/client";
import { historyQuery } from "../../../api/queries";
import { useChange } from "../../../app/useChange";
import { WallPicture } from "../../../drawing/bench/WallPicture";
import { Failed } from "../../../parts/Failed";
import { today, unbroken } from "../../../parts/format";
import { Refused } from "../../../parts/Refused";
import { NeedsPair } from "../NeedsPair";
import { Trials } from "../seen/Trials";
import type { RigProps } from "../useRig";
import { Plain } from "../../../parts/Plain";

/** Missed focus, a soft corner, a wedge, play: which frame to take next, until the cause is told. */
export default function Frames({ rig }: RigProps) {
  if (rig.query === null) return <NeedsPair rig={rig} what="Soft somewhere" />;
  return <Tree query={rig.query} />;
}

function Tree({ query }: { query: RigQuery }) {
  const [words, change] = useChange();
  const queries = useQueryClient();
  const answers = (words.get("saw") ?? "").split(",").filter(Boolean);
  const found = useQuery(causesQuery(query, answers));
  const keep = useMutation({
    mutationFn: async () =>
      unwrap(
        await client.POST("/api/v1/bench/trials", {
          params: { query },
          body: {
            saw: [],
            nameless: false,
            past_infinity: true,
            foils: null,
            day: today(),
            answers,
            note: "",
          },
        }),
      ),
    onSuccess: (trials) => {
      queries.setQueryData(trialsQuery(query).queryKey, trials);
      return queries.invalidateQueries({ queryKey: historyQuery.queryKey });
    },
  });
  if (found.error) return <Failed error={found.error} onRetry={() => change({ saw: null })} />;
  if (!found.data) return <div className="sheet skeleton" aria-busy="true" />;
  const { path, frame, cause } = found.data;
  const answer = (step: number, saw: string) => change({ saw: [...answers.slice(0, step), saw].join(",") }, false);
  return (
    <>
      <div className="sheet bench-sheet" data-frames={found.isPlaceholderData ? undefined : answers.length}>
        <div className="screen-head" aria-live="polite">
          <h1>{cause ? `${cause.title}.` : (frame?.title ?? "")}</h1>
          <p>{cause ? cause.do : (frame?.do ?? "")}</p>
        </div>
        <ol className="bench-tree">
          {path.map((one, step) => (
            <li key={one.frame} data-frame={one.frame}>
              <h2>{`${step + 1}. ${one.title}`}</h2>
              <div role="group" aria-label={one.title}>
                {one.looks.map((look) => (
                  <Plain
                    key={look.saw}
                    className="bench-look"
                    aria-pressed={answers[step] === look.saw}
                    onClick={() => answer(step, look.saw)}
                  >
                    <WallPicture saw={look.saw} />
                    <span>{look.label}</span>
                  </Plain>
                ))}
              </div>
            </li>
          ))}
        </ol>
      </div>
      <div className="below bench-below">
        <Open report={found.data} />
        <div>
          <div className="bench-actions">
            <Button
              type={cause ? "primary" : "default"}
              disabled={answers.length === 0}
              loading={keep.isPending}
              onClick={() => keep.mutate()}
              data-action="keep-trial"
            >
              Keep this as a trial
            </Button>
            {answers.length > 0 && (
              <Plain className="unfold" onClick={() => change({ saw: null })}>
                begin again
              </Plain>
            )}
          </div>
          {keep.error && <Refused error={keep.error} />}
          <Trials query={query} />
        </div>
      </div>
    </>
  );
}

/** What it can still be, with what the numbers of this rig say for or against it. */
function Open({ report }: { report: CauseReport }) {
  return (
    <section data-section="causes">
      <h2>{report.cause ? "It is" : "What it can still be"}</h2>
      <ul className="findings">
        {report.open.map((one) => (
          <li key={one.cause} data-cause={one.cause}>
            <strong>{one.title}. </strong>
            {unbroken(one.evidence) || "Nothing measured here shows it."}
          </li>
        ))}
      </ul>
    </section>
  );
}
