import "../Log.css";
import "./Trials.css";

import { useQuery } from "@tanstack/react-query";
import { useSearchParams } from "react-router";

import { inHandQuery } from "../../../api/logQueries";
import { everyTrialQuery, trialsQuery, type TrialsPage } from "../../../api/trialQueries";
import { useScreen } from "../../../app/screen";
import { TrialLadder } from "../../../drawing/trials/TrialLadder";
import { Failed } from "../../../parts/Failed";
import { Plain } from "../../../parts/Plain";
import { adaptersIn, viaOf } from "../../../parts/rig";
import { takenOf } from "../../../parts/taken";
import { UndoBar } from "../../../parts/UndoBar";
import { Offered } from "../RigChoice";
import { Beside } from "./Beside";
import { Crops } from "./Crops";
import { TRIALS_HELP } from "./help";
import { NewLadder } from "./NewLadder";
import { ToBench } from "./ToBench";
import { Told } from "./Told";

/** How a rig did, stop by stop, and from where it is usable. */
export default function Trials() {
  const [address, setAddress] = useSearchParams();
  const [lens, body, via] = [address.get("lens") ?? "", address.get("body") ?? "", address.get("via") ?? ""];
  const rig = { lens, body, via };
  const picture = Number(address.get("picture") ?? 0);
  const taken = takenOf(address);
  const named = lens !== "" && body !== "";
  const every = useQuery({ ...everyTrialQuery, enabled: !named });
  const page = useQuery({ ...trialsQuery(rig), enabled: named });
  const hand = useQuery({ ...inHandQuery(rig), enabled: named });
  const there = named ? page.isSuccess && hand.isSuccess : every.isSuccess;
  useScreen({
    title: "Trials",
    answer: there ? `trials ${named ? `${lens} ${body} ${via}` : ""}`.trim() : undefined,
    busy: !there,
    className: "trials",
    help: TRIALS_HELP,
  });
  const error = page.error ?? hand.error ?? every.error;
  if (error) return <Failed error={error} onRetry={() => void (named ? page.refetch() : every.refetch())} />;
  const choose = (one: { lens: string; body: string; via: readonly string[] }) =>
    setAddress({ lens: one.lens, body: one.body, via: viaOf(one.via) });
  if (!named) return every.data ? <Choose page={every.data} onChoose={choose} /> : <Skeleton />;
  if (!page.data || !hand.data) return <Skeleton />;
  const name = [hand.data.lens_name, ...hand.data.via_names].join(" · ");
  return (
    <div className="trials-page">
      <header>
        <h1>{`${name} on ${hand.data.body_name}`}</h1>
        <Plain className="unfold" onClick={() => setAddress({})}>
          another rig
        </Plain>
      </header>
      <Comes page={page.data} />
      {picture > 0 && <Crops key={picture} picture={picture} />}
      <NewLadder
        key={`${lens} ${body} ${via} ${picture} ${taken.stop}`}
        rig={{ lens, body, via: adaptersIn(via) }}
        hand={hand.data}
        taken={taken}
      />
      <ToBench rig={rig} softCorners={page.data.corners_soft} />
      <Told lines={page.data.trials} />
      <Beside rig={rig} />
      <UndoBar />
    </div>
  );
}

const Skeleton = () => <div className="sheet skeleton" aria-busy="true" />;

/** What the trials come to, use by use, drawn. */
function Comes({ page }: { page: TrialsPage }) {
  if (page.trials.length === 0)
    return <p className="trials-none">It was not tried yet: note a ladder of stops below.</p>;
  const stops = page.trials.map(({ trial }) => trial.aperture);
  // One scale for all of them: a stop stands at the same place in every drawing.
  const range = { low: Math.min(...stops), high: Math.max(...stops) };
  const shown = page.usable.map(({ row, says }) => ({
    key: `${row.use} ${row.body} ${row.focal_length_mm}`,
    use: row.use,
    says,
    from: row.aperture,
    counts: true,
    lines: page.trials.filter(
      ({ trial }) => trial.use === row.use && trial.body === row.body && trial.focal_length_mm === row.focal_length_mm,
    ),
  }));
  const drawn = new Set(shown.flatMap(({ lines }) => lines.map(({ trial }) => trial.id)));
  const rest = page.trials.filter(({ trial }) => !drawn.has(trial.id));
  for (const use of new Set(rest.map(({ trial }) => trial.use)))
    shown.push({
      key: use,
      use,
      says: "None of these trials counts.",
      from: null,
      counts: false,
      lines: rest.filter(({ trial }) => trial.use === use),
    });
  return (
    <section aria-label="Usable from">
      {shown.map(({ key, use, says, from, counts, lines }) => (
        <figure key={key} className="trials-use" data-use={use}>
          <figcaption data-usable={counts ? (from ?? "none") : undefined}>{says}</figcaption>
          <TrialLadder trials={lines} from={from} range={range} label={says} />
        </figure>
      ))}
    </section>
  );
}

function Choose({ page, onChoose }: { page: TrialsPage; onChoose: (rig: Chosen) => void }) {
  return (
    <div className="trials-page">
      <h1>{page.rigs.length === 0 ? "Nothing was tried yet. Which rig?" : "Which rig was tried?"}</h1>
      <ul className="trials-rigs" aria-label="Rigs that were tried">
        {page.rigs.map((rig) => (
          <li key={rig.name}>
            <Plain onClick={() => onChoose({ ...rig, body: rig.body ?? "" })} disabled={rig.body === null}>
              <span>{rig.name}</span>
              <span>{`${rig.trials} ${rig.trials === 1 ? "trial" : "trials"}`}</span>
            </Plain>
          </li>
        ))}
      </ul>
      <Offered onChoose={onChoose} />
    </div>
  );
}

interface Chosen {
  lens: string;
  body: string;
  via: readonly string[];
}
