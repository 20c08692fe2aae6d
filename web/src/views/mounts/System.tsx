import "../../parts/Figure.css";
import "./System.css";

import { useQuery } from "@tanstack/react-query";
import { Fragment } from "react";
import { Link, useNavigate, useParams } from "react-router";

import type { SystemPage } from "../../api/client";
import { mountQuery } from "../../api/queries";
import { useScreen } from "../../app/screen";
import { useChange } from "../../app/useChange";
import { lengthOrNot, mm, money } from "../../parts/format";
import { EFFECT_WORDS, EffectMark } from "../../parts/effects";
import { word } from "../../parts/words";
import { MountFace } from "../../drawing/MountFace";
import { HELP } from "./help";
import { NoSystem } from "./NoSystem";
import { Plain } from "../../parts/Plain";

/** One mount system whole: its generations in time, its coupling parts, its rules, what is held of it. */
export default function System() {
  const { id = "" } = useParams();
  const navigate = useNavigate();
  const page = useQuery(mountQuery(id));
  useScreen({
    title: page.data?.mount.name ?? "Mount",
    answer: page.isSuccess ? `mount ${id}` : undefined,
    busy: page.isPending,
    className: "system",
    help: HELP,
    keys: {
      k: () => {
        if (page.data?.mount.generations.length) void navigate(`/mounts/${id}/key`);
      },
      Escape: () => {
        void navigate(`/mounts?of=${id}`);
      },
    },
  });
  return (
    <>
      {page.error && <NoSystem error={page.error} onRetry={() => void page.refetch()} />}
      {page.data && <Page page={page.data} />}
    </>
  );
}

function Page({ page }: { page: SystemPage }) {
  const { mount } = page;
  const facts: [string, string][] = [
    [word("flange_focal_distance"), lengthOrNot(mount.register_mm)],
    [word("tolerance"), mount.tolerance_mm == null ? "not known, ±0.02 mm assumed" : `±${mm(mount.tolerance_mm)} mm`],
    [word("throat"), mount.throat_mm ? `${mm(mount.throat_mm, 1)} mm` : "unknown"],
    ["flange, across", mount.outer_mm ? `${mm(mount.outer_mm, 1)} mm` : "unknown"],
    ["load rating", mount.load_rating_nm ? `${mm(mount.load_rating_nm)} N·m` : "unknown"],
    [
      word("mount_play"),
      mount.locking ? "none, it locks" : mount.play_mm == null ? "unknown" : `${mm(mount.play_mm)} mm`,
    ],
  ];
  return (
    <>
      <div className="sheet system-head">
        <div className="system-title">
          <h1>{mount.name}</h1>
          <p>
            {[
              ...mount.aliases.map((alias) => `also ${alias}`),
              mount.thread
                ? `screw ${mount.thread.diameter_mm} × ${mount.thread.pitch_mm}`
                : mount.coupling.replace("_", " "),
              mount.positions > 1 ? `goes on in ${mount.positions} positions` : "",
            ]
              .filter(Boolean)
              .join(" · ")}
          </p>
          {mount.notes && <p>{mount.notes}</p>}
          <p>{[mount.index_mark, mount.lock_action].filter(Boolean).join(" ")}</p>
          <p className="message-actions">
            <Link to={`/mounts?of=${mount.id}`}>On the ruler</Link>
            {mount.generations.length > 1 && mount.features.length > 0 && (
              <Link className="strong" to={`/mounts/${mount.id}/key`}>
                Which generation is it?
              </Link>
            )}
          </p>
        </div>
        <div className="figures">
          {facts.map(([label, value]) => (
            <div key={label} className="figure still">
              <span className="figure-value">{value}</span>
              <span className="figure-label">{label}</span>
            </div>
          ))}
        </div>
      </div>
      {mount.generations.length > 0 && <Generations page={page} />}
      <div className="below">
        <section>
          {page.encounters.length > 0 && <Encounters page={page} />}
          {page.look_alikes.length > 0 && (
            <>
              <h2>Look alike, and are not</h2>
              <ul className="findings">
                {page.look_alikes.map((pair) => (
                  <li key={`${pair.one} ${pair.other}`} className="caution">
                    <strong>{pair.one === mount.id ? pair.other : pair.one}</strong> {pair.text}
                  </li>
                ))}
              </ul>
            </>
          )}
        </section>
        <section>
          <Held title="Bodies" items={page.bodies} kind="body" />
          <Held title="Lenses" items={page.lenses} kind="lens" />
          <Adapters page={page} side="lens" />
          <Adapters page={page} side="body" />
          {page.speaks.length > 0 && (
            <>
              <h2>Protocol</h2>
              <ul className="held">
                {page.speaks.map((speech) => (
                  <li key={speech.id}>
                    <span>{speech.name}</span>
                    <span className="route-gives">
                      {[
                        speech.powers.length ? `powers ${speech.powers.join(" and ")}` : "powers nothing",
                        speech.accepts.length ? `understands ${speech.accepts.join(", ")}` : "",
                      ]
                        .filter(Boolean)
                        .join("; ")}
                    </span>
                  </li>
                ))}
              </ul>
            </>
          )}
        </section>
      </div>
    </>
  );
}

/** Generations on a line of years, each with its mount drawn from behind and from the front. */
function Generations({ page }: { page: SystemPage }) {
  const { generations, features } = page.mount;
  const years = generations
    .flatMap(({ from, to }) => [from, to])
    .filter((year): year is number => typeof year === "number");
  const first = Math.min(...years, 2000);
  const last = Math.max(...years, first + 20) + 6;
  const share = (year: number) => `${(((year - first) / (last - first)) * 100).toFixed(2)}%`;
  const has = (ids: readonly string[]) => features.filter(({ id }) => ids.includes(id));
  return (
    <section className="generations">
      <h2>Generations in time</h2>
      {years.length > 0 && (
        <div className="timeline" aria-hidden="true">
          {generations.map(({ id, label, from, to }) =>
            from ? (
              <span
                key={id}
                className={`era ${to ? "" : "open"}`}
                style={{ left: share(from), width: `calc(${share((to ?? last) + first - from)} - 2px)` }}
              >
                {label}
                <span className="era-years">{`${from}–${to ?? ""}`}</span>
              </span>
            ) : null,
          )}
        </div>
      )}
      <ul className="generation-list">
        {generations.map((generation) => {
          const [lens, body] = [has(generation.lens_features), has(generation.body_features)];
          return (
            <li key={generation.id} data-generation={generation.id}>
              <h3>
                {`Generation ${generation.label}`}
                <span className="wall-count">
                  {generation.from ? `${generation.from}–${generation.to ?? "today"}` : ""}
                </span>
              </h3>
              {features.length > 0 && (
                <div className="faces">
                  <Face side="lens" features={lens} generation={generation.label} />
                  <Face side="body" features={body} generation={generation.label} />
                </div>
              )}
              {lens.length + body.length === 0 && (
                <p className="route-gives">
                  {generation.protocol ? `protocol ${generation.protocol}` : "nothing to see"}
                </p>
              )}
            </li>
          );
        })}
      </ul>
    </section>
  );
}

interface FaceProps {
  side: "lens" | "body";
  features: SystemPage["mount"]["features"];
  generation: string;
}

/** One side of a generation, its parts numbered and named. */
function Face({ side, features, generation }: FaceProps) {
  const from = side === "lens" ? "lens, from behind" : "body, from the front";
  return (
    <figure>
      <MountFace side={side} features={features} size={132} label={`Generation ${generation}, ${from}`} numbered />
      <figcaption>{from}</figcaption>
      <ol className="face-parts numbered">
        {features.map(({ id, label, misleading }) => (
          <li key={id}>{misleading ? `${label} (misleads)` : label}</li>
        ))}
      </ol>
    </figure>
  );
}

/** Lenses of each generation on bodies of each: what happens, and what it means. */
function Encounters({ page }: { page: SystemPage }) {
  const { generations } = page.mount;
  const [address, change] = useChange();
  const seen = address.get("rule");
  const shown = page.encounters.find((one) => `${one.lens_generation} ${one.body_generation}` === seen);
  const label = (id: string) => generations.find((one) => one.id === id)?.label ?? id;
  return (
    <section className="encounters">
      <h2>Lenses (rows) on bodies (columns), as they left the factory</h2>
      <table>
        <thead>
          <tr>
            <td />
            {generations.map(({ id, label: name }) => (
              <th key={id} scope="col">
                {name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {generations.map((front) => (
            <tr key={front.id}>
              <th scope="row">{front.label}</th>
              {generations.map((rear) => {
                const one = page.encounters.find(
                  (each) => each.lens_generation === front.id && each.body_generation === rear.id,
                );
                if (!one) return <Fragment key={rear.id} />;
                const key = `${front.id} ${rear.id}`;
                return (
                  <td key={rear.id}>
                    <Plain
                      className={`encounter ${one.effect}`}
                      aria-pressed={seen === key}
                      data-encounter={key}
                      onClick={() => change({ rule: seen === key ? null : key }, false)}
                    >
                      <EffectMark effect={one.effect} /> {EFFECT_WORDS[one.effect]}
                    </Plain>
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
      </table>
      <p className="encounter-text" aria-live="polite">
        {shown ? (
          <>
            <strong>{`${label(shown.lens_generation)} on ${label(shown.body_generation)}:`}</strong> {shown.text}{" "}
            {shown.action ?? ""}
          </>
        ) : (
          "Choose a square for its rule. A converted lens follows its own parts, not its generation."
        )}
      </p>
    </section>
  );
}

/** Adapters that take its lenses, or that go onto its bodies, by the system on their other side. */
function Adapters({ page, side }: { page: SystemPage; side: "lens" | "body" }) {
  const found = page.adapters.filter((one) => one.side === side);
  if (found.length === 0) return null;
  const others = [...new Set(found.map((one) => one.other_name))];
  return (
    <>
      <h2>{side === "lens" ? "Adapters for its lenses" : "Adapters onto its bodies"}</h2>
      <ul className="held adapters">
        {others.map((other) => (
          <li key={other}>
            <span>{side === "lens" ? `onto ${other}` : `for ${other}`}</span>
            <span className="route-gives">
              {found
                .filter((one) => one.other_name === other)
                .map(
                  (one) =>
                    `${one.name} ${one.owned ? "(owned)" : one.price === null ? "" : `(${money(one.price, page.currency)})`}`,
                )
                .join(", ")}
            </span>
          </li>
        ))}
      </ul>
    </>
  );
}

function Held({ title, items, kind }: { title: string; items: SystemPage["lenses"]; kind: "lens" | "body" }) {
  if (items.length === 0) return null;
  return (
    <>
      <h2>{`${title} in the collection`}</h2>
      <ul className="held">
        {items.map((item) => (
          <li key={item.id}>
            <Link to={`/?${kind}=${item.id}`}>{item.name}</Link>
            <span className="route-gives">
              {[item.generation ? `generation ${item.generation}` : "", item.detail, item.owned ? "owned" : ""]
                .filter(Boolean)
                .join(", ")}
            </span>
          </li>
        ))}
      </ul>
    </>
  );
}
