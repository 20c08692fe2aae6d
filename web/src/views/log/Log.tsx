import "./Log.css";

import { useQuery } from "@tanstack/react-query";
import Button from "antd/es/button";
import { useCallback, useMemo, useState } from "react";
import { Link, useSearchParams } from "react-router";

import { type InHand, inHandQuery, rigsUsedQuery } from "../../api/logQueries";
import { useScreen } from "../../app/screen";
import { SessionStrip } from "../../drawing/log/SessionStrip";
import { Failed } from "../../parts/Failed";
import { Plain } from "../../parts/Plain";
import { adaptersIn, viaOf } from "../../parts/rig";
import { UndoBar } from "../../parts/UndoBar";
import { BringIn } from "./BringIn";
import { Chips } from "./Chips";
import { FilmRoll } from "./FilmRoll";
import { HELP } from "./help";
import { LastEntries } from "./LastEntries";
import { More } from "./More";
import { choiceOf, type Choice, keyOf, Offered, RigChoice } from "./RigChoice";
import { entryOf, type Settings, settingsOf, SUPPORTS, USES, type Way } from "./settings";
import { Stops } from "./Stops";
import { useLogging } from "./useLogging";

const WAYS: readonly { key: Way; name: string; doing: string }[] = [
  { key: "tap", name: "This frame", doing: "Log this frame" },
  { key: "before", name: "From here on", doing: "Log from here on" },
  { key: "after", name: "That series", doing: "Log that series" },
];
/** So many entries stand below, and so many more each time. */
const MOST = 30;

/** What is used, while it is used: one thumb, one tap. */
export default function Log() {
  const [address, setAddress] = useSearchParams();
  const [most, setMost] = useState(MOST);
  const logging = useLogging(most);
  const used = useQuery(rigsUsedQuery);
  const [way, setWay] = useState<Way>("tap");
  const [more, setMore] = useState(false);
  const [kept, setKept] = useState<Record<string, Partial<Settings>>>({});
  const [named, setNamed] = useState<Choice | null>(null);
  const asked = useMemo(() => chosenIn(address, named), [address, named]);
  // Of each body what was on it last; what is asked for stands in its body's place.
  const hands = useMemo(() => {
    const all = [...(asked ? [asked] : []), ...(used.data ?? []).map(choiceOf)];
    return all.filter((one, at) => all.findIndex(({ body }) => body === one.body) === at);
  }, [asked, used.data]);
  const current = asked ?? hands[0] ?? null;
  const hand = useQuery({
    ...inHandQuery({ lens: current?.lens ?? "", body: current?.body ?? "", via: viaOf(current?.via) }),
    enabled: current !== null,
  });
  const key = current ? keyOf(current) : "";
  const last = logging.lastWaiting(key) ?? used.data?.find((rig) => keyOf(rig) === key)?.last;
  const settings: Settings = useMemo(
    () => ({
      ...settingsOf(last),
      ...(current?.shot ? { shot: current.shot } : {}),
      ...kept[key],
    }),
    [last, current, kept, key],
  );
  const change = useCallback(
    (changed: Partial<Settings>) => setKept((all) => ({ ...all, [key]: { ...all[key], ...changed } })),
    [key],
  );
  const stop = hand.data?.stops.includes(last?.aperture ?? -1) ? (last?.aperture ?? null) : null;
  const log = (aperture: number | null) => {
    if (!current) return;
    const at = new Date(Date.now() - Math.round((logging.off ?? 0) * 1000));
    logging.log(entryOf({ rig: { ...current, via: [...current.via] }, settings, way, aperture, at, off: logging.off }));
    change({
      note: "",
      otherStop: "",
      ...(settings.frame === null ? {} : { frame: settings.frame + settings.frames }),
    });
    setWay("tap");
  };
  const again = () => log(stop);
  const choose = (choice: Choice) => {
    setNamed(choice);
    setAddress({ lens: choice.lens, body: choice.body, via: viaOf(choice.via) }, { replace: true });
  };
  const there = logging.page.isSuccess && used.isSuccess && (current === null || hand.isSuccess);
  const failure = logging.page.data ? hand.error : (logging.page.error ?? used.error);
  useScreen({
    title: "Log",
    answer: there ? `log ${key}` : undefined,
    busy: failure === null && !there,
    className: "log",
    help: HELP,
    keys: { m: () => setMore(!more), ...(current ? { Enter: again } : {}) },
  });
  if (failure) return <Failed error={failure} onRetry={() => void logging.page.refetch()} />;
  if (!there) return <div className="sheet skeleton" aria-busy="true" />;
  const entries = logging.page.data?.entries ?? [];
  const off = logging.off ?? 0;
  const doing = WAYS.find((one) => one.key === way)?.doing ?? "";
  if (current === null) return <NoRig onChoose={choose} />;
  return (
    <div className="log-page">
      <section className="log-now" aria-label="What is in hand">
        <RigChoice hands={hands} current={current} onChoose={choose} />
        {hand.data && hand.data.unknown.length > 0 && (
          <p className="log-hint">{`Not in your kit: ${hand.data.unknown.join(", ")}. It is logged all the same.`}</p>
        )}
        <div className="log-ways" role="group" aria-label="What is logged">
          {WAYS.map(({ key: one, name }) => (
            <Plain key={one} aria-pressed={one === way} onClick={() => setWay(one)}>
              {name}
            </Plain>
          ))}
        </div>
        {hand.data && (
          <Setting hand={hand.data} settings={settings} last={stop} doing={doing} onChange={change} onStop={log} />
        )}
        <Button className="log-more-button" aria-expanded={more} onClick={() => setMore(!more)}>
          {more ? "Less" : "More"}
        </Button>
        {more && hand.data && <More hand={hand.data} settings={settings} onChange={change} onStop={log} />}
        {Math.abs(off) > 5 && (
          <p className="log-hint" role="status">
            {`The clock of this device is ${Math.abs(Math.round(off))} s ${off > 0 ? "fast" : "slow"}; entries are kept by the machine's.`}
          </p>
        )}
      </section>
      <section className="log-last">
        <SessionStrip entries={entries} />
        <h2>{logging.page.data?.in_all ? `Last of ${logging.page.data.in_all} entries` : "No entry yet"}</h2>
        <LastEntries
          entries={entries}
          waiting={logging.waiting}
          onAgain={logging.tryAgain}
          onInsist={logging.insist}
          onDrop={logging.drop}
        />
        {entries.length === most && most < 500 && (
          <Plain className="unfold" onClick={() => setMost(Math.min(most + 60, 500))}>
            Earlier ones
          </Plain>
        )}
        <p className="message-actions">
          <Link to="/log/pictures">Read pictures in</Link>
          <a href="/api/v1/log/file">Log file</a>
          <a href="/api/v1/log/table">Table (CSV)</a>
        </p>
        <BringIn />
        <UndoBar />
      </section>
    </div>
  );
}

/** Nothing is logged yet: what is known of rigs is offered. */
function NoRig({ onChoose }: { onChoose: (choice: Choice) => void }) {
  return (
    <div className="message" data-state="no-rig">
      <h1>Nothing is logged yet. Which rig is in hand?</h1>
      <Offered onChoose={onChoose} />
      <p className="message-actions">
        <Link to="/">Choose one at the light path</Link>
        <Link to="/log/pictures">Read pictures in</Link>
      </p>
      <BringIn />
    </div>
  );
}

interface SettingProps {
  hand: InHand;
  settings: Settings;
  last: number | null;
  doing: string;
  onChange: (changed: Partial<Settings>) => void;
  onStop: (stop: number | null) => void;
}

/** How it is set: a tap on a stop logs it. */
function Setting({ hand, settings, last, doing, onChange, onStop }: SettingProps) {
  return (
    <>
      {hand.marks_mm.length > 0 && (
        <Chips
          name="Zoom at"
          options={hand.marks_mm.map((mark) => ({ key: mark, name: `${mark}` }))}
          value={settings.mark}
          onChange={(mark) => onChange({ mark })}
        />
      )}
      <Stops stops={hand.stops} assumed={hand.stops_assumed} last={last} doing={doing} onStop={onStop} />
      {hand.film && <FilmRoll body={hand.body} settings={settings} onChange={onChange} />}
      <Chips
        name="Focus"
        options={hand.focus_aids.map((aid) => ({ key: aid, name: aid }))}
        value={settings.focus}
        onChange={(focus) => onChange({ focus: focus as Settings["focus"] })}
      />
      <Chips
        name="Held by"
        options={SUPPORTS.map((one) => ({ key: one, name: one }))}
        value={settings.support}
        onChange={(support) => onChange({ support })}
      />
      <Chips name="Use" options={USES} value={settings.use} onChange={(use) => onChange({ use })} />
    </>
  );
}

/** The rig that the address names, called as it was chosen. */
function chosenIn(address: URLSearchParams, named: Choice | null): Choice | null {
  const [lens, body] = [address.get("lens"), address.get("body")];
  if (!lens || !body) return null;
  const asked = { lens, body, via: adaptersIn(address.get("via") ?? "") };
  const shot = address.get("shot");
  if (named && keyOf(named) === keyOf(asked)) return named;
  return { ...asked, name: [lens, ...asked.via].join(" · "), bodyName: body, ...(shot ? { shot } : {}) };
}
