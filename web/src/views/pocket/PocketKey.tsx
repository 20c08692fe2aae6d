import Button from "antd/es/button";
import { useSearchParams } from "react-router";

import { MountFace } from "../../drawing/MountFace";
import { EffectMark } from "../../parts/effects";
import { percent } from "../../parts/format";
import { Plain } from "../../parts/Plain";
import type { Pocket } from "../../pocket/store";

type System = Pocket["systems"][number];
type Node = System["key"][number];
type Answer = "yes" | "no" | "unknown";

const LETTERS: Record<string, Answer> = { y: "yes", n: "no", u: "unknown" };
const SAID: Record<Answer, string> = { yes: "seen", no: "not there", unknown: "cannot be seen" };

interface Step {
  asked: string;
  answer: Answer;
}

/** Along the answers from the first place on: nothing is computed here. */
function walk(system: System, letters: string): { node: Node; steps: Step[] } | null {
  let node = system.key[0];
  if (!node) return null;
  const steps: Step[] = [];
  for (const letter of letters) {
    const answer = LETTERS[letter];
    const next: Node | undefined = answer && node.asked !== null ? system.key[node[answer] ?? -1] : undefined;
    if (!answer || node.asked === null || !next) break;
    steps.push({ asked: node.asked, answer });
    node = next;
  }
  return { node, steps };
}

/** Which generation it is: a tree of questions that is carried. */
export function PocketKey({ pocket }: { pocket: Pocket }) {
  const [address, setAddress] = useSearchParams();
  const systems = pocket.systems.filter(({ key }) => key.length > 1);
  const system = systems.find(({ mount }) => mount === address.get("mount")) ?? systems[0];
  const put = (words: Record<string, string>) =>
    setAddress((now) => new URLSearchParams({ ...Object.fromEntries(now), ...words }));
  const found = system && walk(system, address.get("seen") ?? "");
  if (!system || !found)
    return (
      <>
        <h1>There is no key to carry.</h1>
        <p>No system of this collection has generations that are told apart by what can be seen.</p>
      </>
    );
  const { node, steps } = found;
  const asked = system.features.find(({ id }) => id === node.asked);
  const seen = system.features.filter(({ id }) => steps.some((one) => one.asked === id && one.answer === "yes"));
  const letters = (address.get("seen") ?? "").slice(0, steps.length);
  return (
    <>
      {systems.length > 1 && (
        <div className="pocket-chips" role="group" aria-label="System">
          {systems.map(({ mount, name }) => (
            <Plain key={mount} aria-pressed={mount === system.mount} onClick={() => put({ mount, seen: "" })}>
              {name}
            </Plain>
          ))}
        </div>
      )}
      <h1 aria-live="polite">
        {asked
          ? asked.question
          : node.settled
            ? `It is generation ${node.remaining[0]?.label ?? ""}.`
            : "Nothing more to ask."}
      </h1>
      <MountFace
        side="lens"
        features={seen}
        asked={asked}
        size={220}
        label={asked ? `Where to look: ${asked.label}` : "The mount as it was seen"}
      />
      {asked && (
        <p className="pocket-answers">
          {(["yes", "no", "unknown"] as const).map((answer) => (
            <Button
              key={answer}
              size="large"
              type={answer === "yes" ? "primary" : "default"}
              data-answer={answer}
              disabled={node[answer] === null}
              onClick={() => put({ mount: system.mount, seen: letters + answer.charAt(0) })}
            >
              {answer === "yes" ? "Yes, I see it" : answer === "no" ? "No" : "Cannot see"}
            </Button>
          ))}
        </p>
      )}
      {node.cut && <p className="pocket-note">What follows is not carried: the machine knows more questions.</p>}
      {steps.length > 0 && (
        <p className="pocket-steps">
          {steps.map(({ asked: id, answer }, at) => (
            <Plain key={id} className="unfold" onClick={() => put({ seen: letters.slice(0, at) })}>
              {`${system.features.find((one) => one.id === id)?.label ?? id}: ${SAID[answer]}`}
            </Plain>
          ))}
        </p>
      )}
      <ul className="pocket-chances" aria-label="What it may be">
        {node.remaining.map(({ label, probability }) => (
          <li key={label}>
            <span>{label}</span>
            <svg className="pocket-chance" viewBox="0 0 90 8" aria-hidden="true">
              <path d="M0 4h90" />
              <path className="likely" d={`M0 4h${(90 * probability).toFixed(2)}`} />
            </svg>
            <span>{percent(probability)}</span>
          </li>
        ))}
      </ul>
      {steps.length > 0 && (
        <>
          <h2>Where it may be mounted, as it was seen so far</h2>
          <ul className="findings">
            {node.meets.map((one) => (
              <li
                key={one.body}
                className={one.effect === "damage" ? "danger" : one.effect === "meters" ? "" : "caution"}
              >
                <EffectMark effect={one.effect} /> <b>{`${one.body}: ${one.says}`}</b> {one.unless && `${one.unless}. `}
                {one.text}
              </li>
            ))}
          </ul>
        </>
      )}
    </>
  );
}
