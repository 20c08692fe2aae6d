import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";

import { addressOf, type MatchReport } from "../../api/client";
import type { AnswerChoice, AskedQuestion, TheAnswer } from "../../api/exerciseQueries";
import { matchQuery } from "../../api/queries";
import { usePractices } from "../../app/Practices";
import { CircleDrawn } from "../../drawing/practice/Shapes";
import { frameFor } from "../../drawing/scale";
import { type Scene, sceneApart, sceneOf } from "../../drawing/scene";
import { Section } from "../../drawing/section/Section";
import { money } from "../../parts/format";
import { rigPath, viaOf } from "../../parts/rig";
import { useWidth } from "../../parts/useWidth";

interface Props {
  answer: TheAnswer;
  chosen: string;
  question: AskedQuestion;
}

const rigOf = ({ lens, body, adapters }: AnswerChoice["after"]): Pieces | null =>
  lens && body ? { lens, body, adapters } : null;

/** The light path of what is right, beside that of what was chosen; its picture, and the money. */
export function Outcome({ answer, chosen, question }: Props) {
  const right = answer.choices.find(({ id }) => id === answer.right);
  const wrong = chosen === answer.right ? undefined : answer.choices.find(({ id }) => id === chosen);
  const [true_, other] = [right && rigOf(right.after), wrong && rigOf(wrong.after)];
  const same = true_ && other && JSON.stringify(true_) === JSON.stringify(other);
  const price = wrong?.after.price ?? null;
  return (
    <section className="practice-outcome" aria-label="What comes of it">
      {(true_ ?? other) && (
        <Paths
          right={true_ ?? null}
          wrong={same ? null : (other ?? null)}
          texts={[right?.text ?? "", wrong?.text ?? ""]}
          question={question}
          price={price}
        />
      )}
      <Risen question={question} texts={[right?.text, wrong?.text]} />
      <Pictures right={right} wrong={wrong} />
      <div className="practice-working">
        <h2>How that comes about</h2>
        <ul>
          {answer.working.map((line) => (
            <li key={line}>{line}</li>
          ))}
        </ul>
      </div>
    </section>
  );
}

/** The frame shifted up in its circle: as far as is right, and as far as was chosen. */
function Risen({ question, texts }: { question: AskedQuestion; texts: readonly (string | undefined)[] }) {
  const { shown } = question;
  const up = texts.flatMap((text) => /^([\d.]+) mm$/.exec(text ?? "")?.[1] ?? []).map(Number);
  const [right, chosen] = up;
  if (shown.kind !== "circle" || right === undefined) return null;
  const said = `Shifted up by ${right} mm a corner just touches the edge of the circle.`;
  return (
    <figure className="practice-risen">
      <CircleDrawn shown={shown} described={said} up={up} />
      <figcaption>{chosen === undefined ? said : `${said} Dashed: ${chosen} mm.`}</figcaption>
    </figure>
  );
}

interface Pieces {
  lens: string;
  body: string;
  adapters: readonly string[];
}

const NOWHERE: Pieces = { lens: "", body: "", adapters: [] };

function useRig(pieces: Pieces | null): MatchReport | null {
  const practice = usePractices().own;
  const { lens, body, adapters } = pieces ?? NOWHERE;
  const match = useQuery({
    ...matchQuery({ lens, body, practice, via: viaOf(adapters) }),
    enabled: pieces !== null,
    retry: false,
  });
  return match.data ?? null;
}

const sceneIn = (report: MatchReport): Scene => {
  const route = report.open;
  return route ? sceneOf(report, route) : sceneApart(report);
};

interface PathsProps {
  right: Pieces | null;
  wrong: Pieces | null;
  /** What is right, and what was chosen, in words. */
  texts: readonly [right: string, chosen: string];
  question: AskedQuestion;
  price: number | null;
}

function Paths({ right, wrong, texts, question, price }: PathsProps) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const reports = [useRig(right), useRig(wrong)];
  const scenes = reports.map((report) => report && sceneIn(report));
  const drawn = scenes.filter((scene) => scene !== null);
  const halved = drawn.length > 1;
  const height = halved ? 330 : 280;
  const box = {
    width,
    height,
    upright: false,
    behind: width < 640 ? 70 : 170,
    ahead: 40,
    slack: 20,
    margin: 51,
    offset: 5,
    halved,
  };
  const frames = width > 0 ? drawn.map((scene) => frameFor(scene, box)) : [];
  const frame = frames.reduce<(typeof frames)[number] | null>(
    (least, each) => (least === null || each.scale < least.scale ? each : least),
    null,
  );
  const [of, chosenReport] = reports;
  const currency = of?.currency ?? chosenReport?.currency ?? "EUR";
  return (
    <div className="practice-paths" ref={ref} data-paths={drawn.length}>
      {frame && (
        <svg
          className="sheet-svg"
          width={width}
          height={height}
          viewBox={`0 0 ${width} ${height}`}
          role="img"
          aria-label={reports
            .map((report) => report?.sentence)
            .filter(Boolean)
            .join(" ")}
        >
          {drawn.map((scene, index) => (
            <Section
              key={index}
              scene={scene}
              frame={frame}
              lightFrom={0}
              half={halved ? (index === 0 ? "upper" : "lower") : undefined}
            />
          ))}
        </svg>
      )}
      <p className="practice-said">
        {halved
          ? `Above the axis: ${texts[0]}. Below it: ${texts[1]}.`
          : right
            ? `This is how it is: ${texts[0]}.`
            : `This is what would come of it: ${texts[1]}.`}
      </p>
      {price !== null && <p className="practice-lost">{`${money(price, currency)} for nothing.`}</p>}
      {right && !question.helped && (
        <p className="message-actions">
          <Link to={rigPath({ ...right, adapters: [...right.adapters] })}>On the light path</Link>
        </p>
      )}
    </div>
  );
}

/** The frame that would have been taken. */
function Pictures({ right, wrong }: { right: AnswerChoice | undefined; wrong: AnswerChoice | undefined }) {
  const practice = usePractices().own;
  const frames = [
    ["Right", right],
    ["Chosen", wrong],
  ] as const;
  const shown = frames.filter(([, choice]) => choice?.after.picture && choice.after.lens !== null);
  if (shown.length === 0) return null;
  return (
    <div className="practice-pictures">
      {shown.map(([name, choice]) => {
        const { lens, body, adapters, mode } = choice?.after ?? { lens: "", body: "", adapters: [], mode: null };
        const asked = {
          practice,
          lens,
          body,
          via: viaOf(adapters),
          scene: "facade",
          rows: 300,
          ...(mode ? { mode } : {}),
        };
        return (
          <figure key={name}>
            <img src={addressOf("/api/v1/frame/picture", asked)} alt={`${name}: the frame as it would be`} />
            <figcaption>{`${name}: ${choice?.text ?? ""}`}</figcaption>
          </figure>
        );
      })}
    </div>
  );
}
