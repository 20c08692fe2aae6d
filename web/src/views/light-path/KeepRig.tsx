import "./KeepRig.css";

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import Button from "antd/es/button";
import Input from "antd/es/input/Input";
import Radio from "antd/es/radio";
import { useState } from "react";
import { Link } from "react-router";

import { type MatchReport, type Route } from "../../api/client";
import { addItem, putItem, readItem } from "../../api/items";
import { ABOUT_KIT, evidenceQuery, itemQuery, rigsQuery } from "../../api/queries";
import { gradeWord } from "../../drawing/GradeMark";
import { labelOf } from "../../parts/labels";
import { Said } from "../../parts/Said";
import { today } from "../../parts/format";
import { Plain } from "../../parts/Plain";

const dated = (word: string, day: string | null) => (day === null ? "" : `${word}${day}`);

/** Within the id of what is changed or made for a rig, and is not in the collection by itself. */
const BETWEEN = "..";

interface Props {
  report: MatchReport;
  route: Route;
}

/** Keep this route under a name; and what is said of its pieces, for and against, with one's own trials. */
export default function KeepRig({ report, route }: Props) {
  const queries = useQueryClient();
  const [name, setName] = useState("");
  const rigs = useQuery(rigsQuery);
  const kept = rigs.data?.rigs.find(
    (rig) => rig.lens === report.lens && rig.body === report.body && rig.adapters.join() === route.adapters.join(),
  );
  const keep = useMutation({
    mutationFn: () =>
      addItem("rigs", { name: name.trim(), lens: report.lens, body: report.body, adapters: route.adapters }),
    onSuccess: async () => {
      setName("");
      await queries.invalidateQueries({ predicate: ABOUT_KIT });
    },
  });
  const renew = useMutation({
    mutationFn: async (id: string) => {
      const page = await readItem("rigs", id);
      // Without a noted grade, today’s is noted.
      const item = Object.fromEntries(
        Object.entries(page.item).filter(([key]) => key !== "grade" && key !== "graded_on"),
      );
      return putItem("rigs", id, item, page.version);
    },
    onSuccess: async () => {
      await queries.invalidateQueries({ predicate: ABOUT_KIT });
    },
  });
  return (
    <section className="keep">
      <h2>{kept ? "Kept" : "Keep this rig"}</h2>
      {kept ? (
        <>
          <p>
            <Link to={`/kit/rigs?item=${kept.id}`}>{kept.name}</Link>
            {": "}
            <Link to={`/setup/${kept.id}`}>set it up</Link>
            {kept.kept_grade && !kept.changed && (
              <span className="route-gives">{` ${gradeWord(kept.kept_grade)}${dated(" since ", kept.graded_on)}`}</span>
            )}
          </p>
          {kept.changed && kept.kept_grade && (
            <p className="warning" data-rig-changed={kept.id}>
              {`It was “${gradeWord(kept.kept_grade)}”${dated(" on ", kept.graded_on)}. `}
              <Button size="small" loading={renew.isPending} onClick={() => renew.mutate(kept.id)}>
                Keep it as it is now
              </Button>
            </p>
          )}
        </>
      ) : (
        <form
          className="keep-form"
          onSubmit={(event) => {
            event.preventDefault();
            if (name.trim()) keep.mutate();
          }}
        >
          <Input
            value={name}
            maxLength={120}
            placeholder="a name for it"
            aria-label="A name for this rig"
            onChange={(event) => setName(event.target.value)}
          />
          <Button htmlType="submit" disabled={!name.trim()} loading={keep.isPending}>
            Keep
          </Button>
        </form>
      )}
      {keep.isError && (
        <p role="alert" className="problem-line">
          {keep.error.message}
        </p>
      )}
      {renew.isError && (
        <p role="alert" className="problem-line">
          {renew.error.message}
        </p>
      )}
      <Assumed report={report} route={route} />
      <Trials report={report} route={route} />
    </section>
  );
}

/** Values that nobody stated or measured: the answer is no surer than they are. */
function Assumed({ report, route }: Props) {
  const doubted = [report.lens, ...route.adapters, report.body].flatMap((id) => {
    const piece = report.pieces[id];
    return piece && piece.assumed.length > 0 ? [piece] : [];
  });
  if (doubted.length === 0) return null;
  return (
    <ul className="findings">
      {doubted.map((piece) => (
        <li key={piece.id} className="info" data-assumed={piece.id}>
          <strong>Assumed</strong> {`of ${piece.name}: ${piece.assumed.map(labelOf).join(", ")}. Measure what decides.`}
        </li>
      ))}
    </ul>
  );
}

/** Evidence of these pieces alone or together; a trial is noted on the first adapter, or on a bare lens. */
function Trials({ report, route }: Props) {
  const queries = useQueryClient();
  const ids = [report.lens, ...route.adapters, report.body];
  const evidence = useQuery(evidenceQuery(ids));
  const [open, setOpen] = useState(false);
  const [claim, setClaim] = useState("");
  const [verdict, setVerdict] = useState<"confirmed" | "contradicted">("confirmed");
  const ring = route.adapters.find((id) => !id.includes(BETWEEN));
  // Of a lens with its mount changed the lens itself.
  const bearer = ring ?? report.lens.split(BETWEEN)[1] ?? report.lens;
  const kind = ring === undefined ? "lenses" : "adapters";
  const note = useMutation({
    mutationFn: async () => {
      const page = await readItem(kind, bearer);
      const said = (page.item.evidence ?? []) as unknown[];
      const told = {
        claim: claim.trim(),
        verdict,
        source: "own",
        on: today(),
        with: ids.filter((id) => id !== bearer),
      };
      return putItem(kind, bearer, { ...page.item, evidence: [...said, told] }, page.version);
    },
    onSuccess: async (page) => {
      setOpen(false);
      setClaim("");
      queries.setQueryData(itemQuery(kind, bearer).queryKey, page);
      await queries.invalidateQueries({ predicate: ABOUT_KIT });
    },
  });
  return (
    <>
      {evidence.data && <Said witnessed={evidence.data} />}
      {open ? (
        <form
          className="trial"
          onSubmit={(event) => {
            event.preventDefault();
            if (claim.trim()) note.mutate();
          }}
        >
          <Input
            value={claim}
            maxLength={400}
            placeholder="what was tried: reaches infinity, locks firmly …"
            aria-label="What was tried"
            onChange={(event) => setClaim(event.target.value)}
          />
          <Radio.Group
            value={verdict}
            onChange={(event) => setVerdict(event.target.value === "contradicted" ? "contradicted" : "confirmed")}
          >
            <Radio value="confirmed">it did</Radio>
            <Radio value="contradicted">it did not</Radio>
          </Radio.Group>
          <Button htmlType="submit" disabled={!claim.trim()} loading={note.isPending}>
            Note it
          </Button>
          <Button type="text" onClick={() => setOpen(false)}>
            Cancel
          </Button>
          {note.isError && (
            <p role="alert" className="problem-line">
              {note.error.message}
            </p>
          )}
        </form>
      ) : (
        <Plain className="unfold" onClick={() => setOpen(true)}>
          Note a trial of your own
        </Plain>
      )}
    </>
  );
}
