import "./SetUp.css";

import { useCallback, useMemo } from "react";
import { Link, useLocation, useNavigate, useParams, useSearchParams } from "react-router";

import type { MatchReport, SetUp as Report } from "../../api/client";
import { useScreen } from "../../app/screen";
import { BalanceSheet } from "../../drawing/BalanceSheet";
import { gradeTitle, GradeMark } from "../../drawing/GradeMark";
import { sceneOf } from "../../drawing/scene";
import { Failed } from "../../parts/Failed";
import { unbroken } from "../../parts/format";
import { PrintedRigCard } from "../../parts/RigCard";
import { Steps } from "../../parts/Steps";
import { usePairPickers } from "../../parts/usePairPickers";
import { Views } from "../../parts/Views";
import { Accessories } from "./Accessories";
import { Corners } from "./Corners";
import { Entered } from "./Entered";
import { FlangeCode } from "./FlangeCode";
import { HELP } from "./help";
import { MenusAt } from "./MenusAt";
import { Rehearse } from "./rehearse/Rehearse";
import { Steadying } from "./Steadying";
import { Stored } from "./Stored";
import { useSetUp } from "./useSetUp";
import { addressOf, VIEWS, viewIn } from "./viewNames";
import { askedOf, rigPath, viaOf } from "../../parts/rig";
import { Plain } from "../../parts/Plain";
import { TableHead } from "../../parts/TableHead";

/** Setting up a rig: how it balances, its steps and entries, its accessories. */
export default function SetUp() {
  const { id } = useParams();
  const navigate = useNavigate();
  const { pathname } = useLocation();
  const [words] = useSearchParams();
  const view = viewIn(words);
  const at = (other: typeof view) => addressOf(pathname, words, other);
  const rig = useSetUp(id);
  const { setUp, match, lens, body } = rig;
  const report = setUp.data;
  // Another end is another rig: one that was kept is left as it is.
  const pick = useCallback(
    (kind: "lens" | "body", picked: string | null) => {
      const next = new URLSearchParams({ lens, body });
      if (picked === null) next.delete(kind);
      else next.set(kind, picked);
      void navigate(`/setup?${next.toString()}`);
    },
    [lens, body, navigate],
  );
  const pickers = usePairPickers(lens || null, body || null, report?.names ?? {}, pick);
  const path = `/?lens=${lens}&body=${body}&via=${viaOf(report?.adapters)}`;
  const named = report ? `${report.names[lens] ?? lens} on ${report.names[body] ?? body}` : "";
  useScreen({
    title: named ? `Set-up: ${named}` : "Set-up",
    answer: rig.settled ? `setup ${lens} ${body}` : undefined,
    busy: !rig.settled && rig.both && !rig.error && rig.nothingFits === null,
    className: "setup",
    help: HELP,
    keys: {
      ...pickers.keys,
      ...Object.fromEntries(VIEWS.map((one) => [one.key, () => void navigate(at(one.view))])),
      g: () => void navigate(path),
    },
    pair: pickers.pair,
  });
  const failure = rig.error ?? pickers.error;
  if (failure) return <Failed error={failure} onRetry={rig.again} />;
  if (rig.nothingFits !== null || (id === undefined && !rig.both)) return <NothingYet text={rig.nothingFits} />;
  if (!report || !match.data) return <div className="sheet skeleton" />;
  const views = (
    <div className="setup-views">
      <Views label="Of the set-up" views={VIEWS} current={view} addressOf={at} beside={OUTINGS} />
      <MenusAt report={report} practice={rig.address.practice} onChange={rig.change} />
    </div>
  );
  if (view === "rehearse") {
    const query = { practice: rig.address.practice, ...askedOf(report) };
    return (
      <>
        {views}
        <Rehearse query={query} named={report.names[lens] ?? lens} answer={`${lens} ${body}`} />
      </>
    );
  }
  if (view === "stored") {
    const query = { practice: rig.address.practice, body, lens, via: viaOf(report.adapters) };
    return (
      <>
        {views}
        <Stored query={query} />
      </>
    );
  }
  return (
    <>
      {views}
      <div className="setup-columns">
        <Head report={report} match={match.data} name={rig.name} named={named} path={path} />
        <div className="setup-card">
          <Steps
            rig={{ lens, body, adapters: viaOf(report.adapters) }}
            steps={report.steps}
            title={report.grade === "danger" ? "Before anything else" : "The card"}
            staged
            sheets={SHEETS}
          />
          <PrintedRigCard report={report} name={rig.name} size="a5" />
          <PrintedRigCard report={report} name={rig.name} size="a6" />
        </div>
        <div className="setup-rest">
          <Bearing report={report} onChange={(changed) => rig.change(changed, false)} />
          <Entered report={report} />
          <Steadying report={report} />
          <Corners report={report} />
          {report.filters_say.length > 0 && (
            <section data-section="filters">
              <h2>Filters in the light</h2>
              <ul className="findings">
                {report.filters_say.map((one) => (
                  <li key={one}>{one}</li>
                ))}
              </ul>
            </section>
          )}
          <Accessories
            report={report}
            chosen={rig.accessories}
            onChange={(chosen) => rig.change({ with: chosen.join(",") }, false)}
          />
          <FlangeCode report={report} match={match.data} />
        </div>
      </div>
    </>
  );
}

const OUTINGS = { path: "/outing", name: "Outings" };

const SHEETS = [
  { sheet: "card-a6", print: "Print the card on A6" },
  { sheet: "card-a5", print: "on A5" },
] as const;

function NothingYet({ text }: { text: string | null }) {
  return (
    <div className="message" data-state={text === null ? "no-pair" : "nothing-fits"}>
      <h1>{text ?? "Which rig?"}</h1>
      <p className="message-actions">
        {text === null ? "Look at a lens on a body first, or open a rig that was kept: " : ""}
        <Link to="/">Light path</Link> <Link to="/kit/rigs">Kept rigs</Link>
      </p>
    </div>
  );
}

type Held = Record<string, string | null>;

interface HeadProps {
  report: Report;
  match: MatchReport;
  name: string;
  named: string;
  path: string;
}

/** The rig drawn on what holds it. */
function Head({ report, match, name, named, path }: HeadProps) {
  const { open: route } = match;
  const scene = useMemo(() => (route ? sceneOf(match, route) : null), [match, route]);
  const chain = report.adapters.map((one) => report.names[one] ?? one).join(" + ");
  return (
    <div className="sheet setup-sheet">
      <div className="screen-head" aria-live="polite">
        <h1>{unbroken(report.camera_says)}</h1>
        <p className="setup-support">{unbroken(report.support_says)}</p>
        {report.usable_says.map((says) => (
          <p key={says} data-usable-says>
            <Link to={rigPath(report, "/log/trials")}>{says}</Link>
          </p>
        ))}
        <p>
          <GradeMark grade={report.grade} size={18} />
          {` ${gradeTitle(report.grade)}. `}
          <Link to={path}>{`${name ? `${name}: ` : ""}${named}, ${chain || "bare"}`}</Link>
          {" · "}
          <Link to={rigPath(report, "/log")}>log it while shooting</Link>
          {report.usable_says.length === 0 && (
            <>
              {" · "}
              <Link to={rigPath(report, "/log/trials")}>note how it did</Link>
            </>
          )}
        </p>
      </div>
      {scene && (
        <BalanceSheet scene={scene} balance={report.balance} names={report.names} sentence={report.balance_says} />
      )}
      {report.balance.assumed.length > 0 && (
        <p className="setup-assumed" data-state="assumed">
          {`Assumed: where ${report.balance.assumed
            .map((one) => report.names[one] ?? one)
            .join(", ")} ${report.balance.assumed.length > 1 ? "weigh, or are" : "weighs, or is"} held.`}
        </p>
      )}
    </div>
  );
}

/** What holds the rig, and what each joint then bears. */
function Bearing({ report, onChange }: { report: Report; onChange: (changed: Held) => void }) {
  const { balance, supports, names } = report;
  const nameOf = (link: string) => {
    if (link === report.body) return `the screw of ${names[link] ?? link}`;
    return report.accessories.includes(link) ? (names[link] ?? link) : `the foot of ${names[link] ?? link}`;
  };
  const others = supports.filter(({ link }) => link !== balance.held_by.link);
  return (
    <section>
      <h2>Held by</h2>
      <div className="toggles" role="group" aria-label="Held by">
        {supports.map(({ link }) => (
          <Plain
            key={link}
            className="filter-toggle"
            aria-pressed={link === balance.held_by.link}
            onClick={() => onChange({ held: link, second: null })}
          >
            {nameOf(link)}
          </Plain>
        ))}
      </div>
      {others.length > 0 && (
        <div className="toggles" role="group" aria-label="And besides">
          <span>and besides</span>
          {others.map(({ link }) => (
            <Plain
              key={link}
              className="filter-toggle"
              aria-pressed={link === report.second_by}
              onClick={() => onChange({ second: link === report.second_by ? null : link })}
            >
              {nameOf(link)}
            </Plain>
          ))}
        </div>
      )}
      <table className="data-table" data-table="joints">
        <TableHead columns={["joint at", "load, N·m", "rated load"]} />
        <tbody>
          {balance.joints.map((joint) => (
            <tr key={joint.joint}>
              <th scope="row">{names[joint.joint] ?? joint.joint}</th>
              <td>{joint.supported ? "held" : (joint.moment_nm?.toFixed(2) ?? "not known")}</td>
              <td>{joint.rating_nm?.toFixed(2) ?? "not stated"}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {report.plate_says && report.second_by === null && <p>{report.plate_says}</p>}
      <p>{report.balance_says}</p>
      <p>{report.play_says}</p>
      <p className="setup-caution">
        Carry a heavy lens by its own foot. What hangs overhead or on a vehicle follows the safety rules of the place,
        with a second line to hold it.
      </p>
    </section>
  );
}
