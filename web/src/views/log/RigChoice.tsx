import { useQuery } from "@tanstack/react-query";
import Button from "antd/es/button";
import { useState } from "react";

import { inHandQuery, type RigUsed, rigsUsedQuery } from "../../api/logQueries";
import { outingQuery, outingsQuery, rigsQuery } from "../../api/queries";
import { lastPair } from "../../app/lastPair";
import { Plain } from "../../parts/Plain";
import { viaOf } from "../../parts/rig";
import { Panel } from "../../parts/Panel";

/** A rig to be logged with, and what it is called. */
export interface Choice {
  lens: string;
  body: string;
  via: readonly string[];
  name: string;
  bodyName: string;
  shot?: string;
}

export const keyOf = ({ lens, body, via }: Pick<Choice, "lens" | "body" | "via">) => `${lens} ${body} ${viaOf(via)}`;

export const choiceOf = ({ lens, body, via, name, body_name }: RigUsed): Choice => ({
  lens,
  body,
  via,
  name,
  bodyName: body_name,
});

interface Props {
  /** The rigs in hand, one for each body, the last used first. */
  hands: readonly Choice[];
  current: Choice | null;
  onChoose: (choice: Choice) => void;
}

/** The bodies in hand side by side, each with what is on it; and all other rigs behind one button. */
export function RigChoice({ hands, current, onChoose }: Props) {
  const [open, setOpen] = useState(false);
  return (
    <div className="log-hands">
      {hands.slice(0, 2).map((hand) => (
        <Plain
          key={hand.body}
          className="log-hand"
          aria-pressed={current !== null && keyOf(current) === keyOf(hand)}
          onClick={() => onChoose(hand)}
        >
          <span className="log-hand-body">{hand.bodyName}</span>
          <span>{hand.name}</span>
        </Plain>
      ))}
      <Button className="log-other-rig" onClick={() => setOpen(true)}>
        {hands.length === 0 ? "Which rig?" : "Another rig"}
      </Button>
      <Panel
        title="Which rig is in hand?"
        placement="bottom"
        size={window.innerWidth < 900 ? 620 : 460}
        open={open}
        onClose={() => setOpen(false)}
        destroyOnHidden
        className="panel"
      >
        <Offered
          onChoose={(choice) => {
            setOpen(false);
            onChoose(choice);
          }}
        />
      </Panel>
    </div>
  );
}

/** What is known of rigs: shots of the outings, rigs that are kept, rigs logged last. */
export function Offered({ onChoose }: { onChoose: (choice: Choice) => void }) {
  const used = useQuery(rigsUsedQuery);
  const kept = useQuery(rigsQuery);
  const outings = useQuery(outingsQuery);
  const next = outings.data?.find(({ shots }) => shots > 0);
  const looked = lastPair();
  const pieces = kept.data?.pieces ?? {};
  const named = (ids: readonly string[]) => ids.map((id) => pieces[id]?.name ?? id).join(" · ");
  return (
    <div className="log-offered">
      {next && <OutingShots id={next.id} name={next.name} onChoose={onChoose} />}
      <Group
        title="Kept rigs"
        choices={(kept.data?.rigs ?? []).map(({ name, lens, body, adapters }) => ({
          label: name,
          lens,
          body,
          via: adapters,
          name: named([lens, ...adapters]),
          bodyName: named([body]),
        }))}
        onChoose={onChoose}
      />
      {looked?.lens && looked.body && (
        <LookedAt lens={looked.lens} body={looked.body} via={looked.via ?? ""} onChoose={onChoose} />
      )}
      <Group
        title="Logged last"
        choices={(used.data ?? []).map((rig) => ({ ...choiceOf(rig), label: `${rig.name} on ${rig.body_name}` }))}
        onChoose={onChoose}
      />
    </div>
  );
}

interface LookedAtProps {
  lens: string;
  body: string;
  via: string;
  onChoose: (choice: Choice) => void;
}

/** The pair that was looked at last, at the light path. */
function LookedAt({ lens, body, via, onChoose }: LookedAtProps) {
  const hand = useQuery(inHandQuery({ lens, body, via })).data;
  if (!hand) return null;
  const name = [hand.lens_name, ...hand.via_names].join(" · ");
  const choice = { lens, body, via: hand.via, name, bodyName: hand.body_name };
  return (
    <Group
      title="Looked at last"
      choices={[{ ...choice, label: `${name} on ${hand.body_name}` }]}
      onChoose={onChoose}
    />
  );
}

function OutingShots({ id, name, onChoose }: { id: string; name: string; onChoose: (choice: Choice) => void }) {
  const page = useQuery(outingQuery(id));
  const shots = page.data?.report.shots ?? [];
  const names = page.data?.report.names ?? {};
  return (
    <Group
      title={`Shots of ${name}`}
      choices={shots.flatMap((shot) =>
        shot.lens === null || shot.body === null
          ? []
          : [
              {
                label: shot.name,
                lens: shot.lens,
                body: shot.body,
                via: shot.adapters,
                name: [shot.lens, ...shot.adapters].map((one) => names[one] ?? one).join(" · "),
                bodyName: names[shot.body] ?? shot.body,
                shot: shot.name,
              },
            ],
      )}
      onChoose={onChoose}
    />
  );
}

interface GroupProps {
  title: string;
  choices: readonly (Choice & { label: string })[];
  onChoose: (choice: Choice) => void;
}

function Group({ title, choices, onChoose }: GroupProps) {
  if (choices.length === 0) return null;
  return (
    <section>
      <h2>{title}</h2>
      <ul className="log-rigs">
        {choices.map(({ label, ...choice }) => (
          <li key={`${label} ${keyOf(choice)}`}>
            <Plain onClick={() => onChoose(choice)}>
              <strong>{label}</strong>
              <span className="route-gives">{`${choice.name}, ${choice.bodyName}`}</span>
            </Plain>
          </li>
        ))}
      </ul>
    </section>
  );
}
