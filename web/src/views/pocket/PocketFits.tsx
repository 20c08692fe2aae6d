import Input from "antd/es/input/Input";
import { useState } from "react";
import { useSearchParams } from "react-router";

import { GradeMark, gradeWord, UnknownMark } from "../../drawing/GradeMark";
import { Plain } from "../../parts/Plain";
import { capital } from "../../parts/words";
import type { Pocket } from "../../pocket/store";
import type { Changes } from "./changes";
import { RoomBar } from "./RoomBar";

type System = Pocket["systems"][number];
type Generation = System["generations"][number];
type Fit = Generation["fits"][number];
type Ring = Pocket["rings"][string];

/** A lens of this mount, on every camera: the mount is two taps away. */
export function PocketFits({ pocket, changes }: { pocket: Pocket; changes: Changes }) {
  const [address, setAddress] = useSearchParams();
  const [sought, setSought] = useState("");
  const system = pocket.systems.find(({ mount }) => mount === address.get("mount"));
  const choose = (mount: string | null, generation: string | null = null) =>
    setAddress((now) => {
      const next = new URLSearchParams(now);
      for (const [key, value] of [
        ["mount", mount],
        ["generation", generation],
      ] as const)
        if (value === null) next.delete(key);
        else next.set(key, value);
      return next;
    });
  if (!system) {
    const found = pocket.systems.filter(({ name, aliases }) => [name, ...aliases].some((one) => isMeant(sought, one)));
    return (
      <>
        <h1>Which mount has the lens?</h1>
        <Input
          size="large"
          value={sought}
          placeholder="a name of it, as it is engraved"
          aria-label="Search the mounts"
          maxLength={60}
          onChange={(event) => setSought(event.target.value)}
        />
        <ul className="pocket-mounts">
          {found.map(({ mount, name, aliases, register_mm: register }) => (
            <li key={mount}>
              <Plain onClick={() => choose(mount)}>
                <b>{name}</b>
                <span>{aliases.join(", ")}</span>
                <span>{register === null ? "distance not known" : `${register.toFixed(2)} mm`}</span>
              </Plain>
            </li>
          ))}
        </ul>
        {found.length === 0 && <p role="status">{`No mount that is carried is called “${sought}”.`}</p>}
      </>
    );
  }
  const asked = address.get("generation");
  const generation = system.generations.find(({ id }) => id === asked) ?? system.generations[0];
  return (
    <>
      <h1>{`A ${system.name} lens on ${pocket.owned ? "your cameras" : "every camera"}`}</h1>
      <Plain className="unfold" onClick={() => choose(null)}>
        another mount
      </Plain>
      {system.generations.length > 1 && (
        <div className="pocket-chips" role="group" aria-label="Its generation">
          {system.generations.map(({ id, label }) => (
            <Plain key={id ?? ""} aria-pressed={id === generation?.id} onClick={() => choose(system.mount, id)}>
              {id === null ? "not known" : label}
            </Plain>
          ))}
        </div>
      )}
      <p className="pocket-note">{`Reckoned for a lens of ${pocket.assumed_mm} mm, with what is usual for this mount.`}</p>
      {generation?.fits.map((fit) => (
        <OneFit
          key={fit.body}
          fit={fit}
          system={system}
          pocket={pocket}
          was={changes.fit(system.mount, generation.id, fit)}
        />
      ))}
    </>
  );
}

interface OneProps {
  fit: Fit;
  system: System;
  pocket: Pocket;
  /** As it was before; `null` the same, `undefined` new. */
  was: Fit | null | undefined;
}

/** Whether what is typed is part of a name, or a line as it is engraved that holds it: “28-80 KLV”. */
function isMeant(typed: string, name: string): boolean {
  const [said, called] = [typed.toLowerCase().trim(), name.toLowerCase()];
  return called.includes(said) || ` ${said} `.includes(` ${called} `);
}

/** What a fit comes to in a word or two. */
function said(fit: Fit): string {
  if (fit.works) return capital(gradeWord(fit.grade ?? "none"));
  if (fit.unlisted_grade) return `${capital(gradeWord(fit.unlisted_grade))}, with a ring that nobody lists`;
  if (fit.grade) return capital(gradeWord(fit.grade));
  return fit.possible ? "Nothing that is listed joins them" : "No ring can join them";
}

function OneFit({ fit, system, pocket, was }: OneProps) {
  const body = pocket.bodies.find(({ id }) => id === fit.body);
  const grade = fit.works ? fit.grade : (fit.unlisted_grade ?? fit.grade);
  const rings = (fit.works ? fit.rings : fit.unlisted).flatMap((id) => pocket.rings[id] ?? []);
  const better = fit.works ? fit.unlisted.flatMap((id) => pocket.rings[id] ?? []) : [];
  return (
    <details className="pocket-fit" data-body={fit.body} data-grade={fit.works ? fit.grade : undefined}>
      <summary>
        {grade ? <GradeMark grade={grade} /> : fit.possible ? <UnknownMark /> : <GradeMark grade="none" />}
        <span className="pocket-fit-name">
          <b>{body?.name ?? fit.body}</b>
          <span>
            {said(fit)}
            {fit.works && !fit.surely && ", if its focus reaches"}
          </span>
          {was !== null && <Changed was={was === undefined ? "" : said(was)} />}
        </span>
        <span className="pocket-fit-buy">
          {rings.length > 0 ? (fit.works ? "to buy" : "to look for") : fit.owned.length > 0 ? "owned" : ""}
        </span>
      </summary>
      <RoomBar lensRegister={system.register_mm} bodyRegister={body?.register_mm ?? null} room={fit.room_mm} />
      {fit.sentence && <p>{fit.sentence}</p>}
      {fit.minds.map((one) => (
        <p key={one} className="warning">
          {one}
        </p>
      ))}
      {fit.owned.length > 0 && <p>{`With what you own: ${fit.owned.join(", ")}.`}</p>}
      {rings.map((ring) => (
        <ToAskFor key={ring.id} ring={ring} pocket={pocket} />
      ))}
      {better.length > 0 && (
        <p>{`Better, ${gradeWord(fit.unlisted_grade ?? "none")}, with a ring that nobody lists:`}</p>
      )}
      {better.map((ring) => (
        <ToAskFor key={ring.id} ring={ring} pocket={pocket} />
      ))}
    </details>
  );
}

export function Changed({ was }: { was: string }) {
  return <em className="pocket-changed">{was ? `changed; was: ${was}` : "new"}</em>;
}

/** A ring with both ends of its label, and what is easily taken for it. */
function ToAskFor({ ring, pocket }: { ring: Ring; pocket: Pocket }) {
  return (
    <section className="pocket-ring">
      <h2>{ring.listed ? `Ask for: ${ring.name}` : `Look for: ${ring.name}`}</h2>
      <dl>
        <div>
          <dt>Lens side</dt>
          <dd>{ring.lens_end}</dd>
        </div>
        <div>
          <dt>Camera side</dt>
          <dd>{ring.camera_end}</dd>
        </div>
        {ring.price !== null && (
          <div>
            <dt>Price</dt>
            <dd>{`${ring.price} ${pocket.currency}`}</dd>
          </div>
        )}
      </dl>
      {ring.refuse.map((one) => (
        <p key={one} className="warning">{`Refuse ${one}`}</p>
      ))}
      <p className="pocket-note">{`Sold as ${ring.labels.join(", ")}.`}</p>
    </section>
  );
}
