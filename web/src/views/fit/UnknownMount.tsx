import Input from "antd/es/input/Input";
import { keepPreviousData, useQuery } from "@tanstack/react-query";

import { mountCandidatesQuery } from "../../api/queries";
import type { Words } from "../../app/useChange";
import { Choices } from "../../parts/Choices";
import { mm } from "../../parts/format";
import { useTyped } from "./useTyped";
import { Plain } from "../../parts/Plain";

const COUPLINGS = [
  ["bayonet", "It turns and clicks (bayonet)"],
  ["thread", "It screws in (thread)"],
] as const;
const REARS = [
  ["contacts", "Metal contacts"],
  ["lever", "A lever"],
  ["pin", "A pin"],
  ["nothing", "None of these"],
] as const;

type Coupling = (typeof COUPLINGS)[number][0];
type Rear = (typeof REARS)[number][0];

interface Props {
  address: URLSearchParams;
  change: (next: Words, replace?: boolean) => void;
}

const one = <T extends string>(choices: readonly (readonly [T, string])[], value: string | null): T | null =>
  choices.find(([name]) => name === value)?.[0] ?? null;

/** A mount that nobody can name: how it goes on, its width, what is at the rear; then which it may be. */
export function UnknownMount({ address, change }: Props) {
  const coupling = one<Coupling>(COUPLINGS, address.get("unknown"));
  const rear = one<Rear>(REARS, address.get("rear"));
  const [typed, setTyped] = useTyped(address.get("d") ?? "");
  const width = Number(typed.replace(",", "."));
  const measured = width >= 1 && width <= 300 ? width : null;
  return (
    <section data-state="unknown-mount">
      <h2>How does it go on?</h2>
      <Answers choices={COUPLINGS} chosen={coupling} onChoose={(value) => change({ unknown: value }, false)} />
      {coupling && (
        <>
          <h2>What is at the rear?</h2>
          <Answers choices={REARS} chosen={rear} onChoose={(value) => change({ rear: value }, false)} />
          <label className="fit-measure">
            <Caliper thread={coupling === "thread"} />
            <span>
              {coupling === "thread" ? "Width over the thread, mm" : "Width of the ring that goes in, mm"}
              <Input
                inputMode="decimal"
                value={typed}
                placeholder="if you can measure it"
                aria-label="Measured width, mm"
                onChange={(event) => {
                  setTyped(event.target.value);
                  change({ d: event.target.value });
                }}
              />
            </span>
          </label>
          <Candidates
            coupling={coupling}
            rear={rear}
            measured={measured}
            onChoose={(mount) => change({ mount, unknown: null, rear: null, d: null }, false)}
          />
        </>
      )}
    </section>
  );
}

interface AnswersProps<T extends string> {
  choices: readonly (readonly [T, string])[];
  chosen: T | null;
  onChoose: (value: T) => void;
}

function Answers<T extends string>({ choices, chosen, onChoose }: AnswersProps<T>) {
  return (
    <Choices>
      {choices.map(([value, words]) => (
        <Plain key={value} data-choice={value} aria-pressed={value === chosen} onClick={() => onChoose(value)}>
          {words}
        </Plain>
      ))}
    </Choices>
  );
}

/** Where the jaws go: over the crests of a thread, over the ring of a bayonet, not over its tabs. */
function Caliper({ thread }: { thread: boolean }) {
  const rim = thread ? "M30 34l4-5 4 5 4-5 4 5 4-5 4 5 4-5 4 5 4-5 4 5" : "M32 34h36M38 34v-5h8v5M54 34v-5h8v5";
  return (
    <svg viewBox="0 0 100 62" width="100" height="62" aria-hidden="true" className="caliper">
      <path className="caliper-lens" d={`M22 34h56v22H22zM30 34v-9h40v9`} />
      <path className="caliper-rim" d={rim} />
      <path className="caliper-jaws" d="M30 6v20M70 6v20M30 12h40M34 9l-4 3 4 3M66 9l4 3-4 3" />
    </svg>
  );
}

interface CandidatesProps {
  coupling: Coupling;
  rear: Rear | null;
  measured: number | null;
  onChoose: (mount: string) => void;
}

function Candidates({ coupling, rear, measured, onChoose }: CandidatesProps) {
  const found = useQuery({
    ...mountCandidatesQuery({
      coupling,
      ...(rear ? { rear } : {}),
      ...(measured === null ? {} : { diameter_mm: measured }),
    }),
    placeholderData: keepPreviousData,
  });
  if (!found.data) return null;
  return (
    <>
      <h2>{found.data.length === 0 ? "None of the mounts that are known" : "It may be"}</h2>
      {found.data.length === 0 && (
        <p>
          {measured === null
            ? "Look at the rear again, or choose the mount by its name."
            : `Nothing here measures ${mm(measured, 1)} mm and looks so: measure again, or leave it out.`}
        </p>
      )}
      <ul className="fit-candidates">
        {found.data.map(({ mount, name, why }) => (
          <li key={mount}>
            <Plain data-candidate={mount} onClick={() => onChoose(mount)}>
              {name}
            </Plain>
            <span className="route-gives">{why}</span>
          </li>
        ))}
      </ul>
    </>
  );
}
