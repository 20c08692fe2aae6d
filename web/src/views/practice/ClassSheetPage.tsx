import "./Practice.css";

import { useQuery } from "@tanstack/react-query";
import InputNumber from "antd/es/input-number";
import { useId } from "react";
import { Link } from "react-router";

import { type ClassSheet, classSheetQuery, roomQuery, type SkillId } from "../../api/exerciseQueries";
import { usePractices } from "../../app/Practices";
import { useScreen } from "../../app/screen";
import { useChange } from "../../app/useChange";
import { Failed } from "../../parts/Failed";
import { Plain } from "../../parts/Plain";
import { PrintButton, Printed } from "../../parts/Printed";
import { Drawn } from "./Drawn";
import { SKILL_IDS, skillNamed } from "./skillNames";

const MOST = 60;
const whole = (word: string | null, usual: number, least: number, most: number) => {
  const value = Number(word);
  return word !== null && Number.isInteger(value) && value >= least && value <= most ? value : usual;
};

/** Questions for a class, from a seed; the answers on a sheet of their own. */
export default function ClassSheetPage() {
  const [words, change] = useChange();
  const practice = usePractices().own;
  const chosen = (words.get("skills") ?? "").split(",").flatMap((word) => skillNamed(word) ?? []);
  const asked = {
    skills: chosen.length > 0 ? chosen : SKILL_IDS.slice(0, 8),
    count: whole(words.get("count"), 8, 1, MOST),
    seed: whole(words.get("seed"), 1, 0, 999_999),
    wanted: 0.5,
  };
  const room = useQuery(roomQuery(null));
  const sheet = useQuery(classSheetQuery(asked, practice));
  useScreen({
    title: `Practice sheet ${asked.seed}`,
    answer: sheet.data ? `sheet ${asked.seed} ${asked.count} ${asked.skills.join(",")}` : undefined,
    busy: sheet.isPending,
    className: "practice",
  });
  const failed = sheet.error ?? room.error;
  if (failed) return <Failed error={failed} onRetry={() => void Promise.all([sheet.refetch(), room.refetch()])} />;
  const toggle = (skill: SkillId) => {
    const next = SKILL_IDS.filter((one) => (one === skill ? !asked.skills.includes(one) : asked.skills.includes(one)));
    change({ skills: next.join(",") });
  };
  return (
    <div className="practice-page">
      <h1 className="practice-title">A sheet for a class</h1>
      <div className="practice-sheet-tools">
        <Numbered label="Questions" value={asked.count} least={1} most={MOST} onSet={(count) => change({ count })} />
        <Numbered label="Sheet number" value={asked.seed} least={0} most={999_999} onSet={(seed) => change({ seed })} />
        <PrintButton sheet="questions">Print the questions</PrintButton>
        <PrintButton sheet="answers">Print the answers</PrintButton>
      </div>
      <div className="toggles" role="group" aria-label="Skills">
        {(room.data?.skills ?? []).map(({ skill, title }) => (
          <Plain
            key={skill}
            className="filter-toggle"
            aria-pressed={asked.skills.includes(skill)}
            onClick={() => toggle(skill)}
          >
            {title}
          </Plain>
        ))}
      </div>
      <p className="practice-sheet-note">The same number, gear and release make the same sheet.</p>
      {sheet.data ? <Questions sheet={sheet.data} /> : <div className="sheet skeleton" aria-busy="true" />}
      <p className="message-actions">
        <Link to="/practice">Back to practice</Link>
      </p>
      {sheet.data && (
        <>
          <Printed name="questions" usual>
            {() => (
              <>
                <h1>{`Questions, sheet ${asked.seed}`}</h1>
                <Questions sheet={sheet.data} />
              </>
            )}
          </Printed>
          <Printed name="answers">
            {() => (
              <>
                <h1>{`Answers, sheet ${asked.seed}`}</h1>
                <Answers sheet={sheet.data} />
              </>
            )}
          </Printed>
        </>
      )}
    </div>
  );
}

interface NumberedProps {
  label: string;
  value: number;
  least: number;
  most: number;
  onSet: (value: string) => void;
}

function Numbered({ label, value, least, most, onSet }: NumberedProps) {
  const id = useId();
  return (
    <label htmlFor={id}>
      {label}
      <InputNumber
        id={id}
        value={value}
        min={least}
        max={most}
        precision={0}
        onChange={(next) => next !== null && onSet(String(next))}
      />
    </label>
  );
}

/** Each question with its drawing and its answers to tick. */
function Questions({ sheet }: { sheet: ClassSheet }) {
  return (
    <ol className="sheet-questions">
      {sheet.questions.map((question, index) => (
        <li key={index} data-question={question.skill}>
          <p>
            {question.asks}
            {question.helped && " (Of the sample world.)"}
          </p>
          <Drawn
            question={{ ...question, title: "", seed: sheet.seed, wanted: 0.5, choices: question.choices }}
            marked={null}
            onAnswer={null}
          />
          <ul>
            {question.choices.map(({ id, text }) => (
              <li key={id}>{text}</li>
            ))}
          </ul>
        </li>
      ))}
    </ol>
  );
}

function Answers({ sheet }: { sheet: ClassSheet }) {
  return (
    <ol className="sheet-answers">
      {sheet.questions.map(({ choices, right, why, working }, index) => (
        <li key={index}>
          <b>{choices.find(({ id }) => id === right)?.text}</b>
          <p>{why}</p>
          <ul>
            {working.slice(0, 4).map((line) => (
              <li key={line}>{line}</li>
            ))}
          </ul>
        </li>
      ))}
    </ol>
  );
}
