import Button from "antd/es/button";

import type { AskedQuestion, TheAnswer } from "../../api/exerciseQueries";
import { classes } from "../../parts/classes";
import { Plain } from "../../parts/Plain";
import { Drawn } from "./Drawn";

interface Props {
  question: AskedQuestion;
  /** What the arrows stand on, and afterwards what was chosen. */
  marked: string | null;
  answer: TheAnswer | null;
  pending: boolean;
  onAnswer: (id: string) => void;
  onNext: () => void;
}

/** A question with its drawing and its answers; once one was given, which is right. */
export function Asked({ question, marked, answer, pending, onAnswer, onNext }: Props) {
  const right = answer?.right ?? null;
  return (
    <section
      className="practice-asked"
      data-skill={question.skill}
      data-trap={question.trap}
      data-seed={question.seed}
      data-by={question.by}
      data-wanted={question.wanted}
    >
      <header>
        <p className="practice-skill">
          {question.title}
          {question.helped && " · from the sample world: your own gear does not ask this"}
        </p>
        <h1 className={question.asks.length > 150 ? "long" : ""}>{question.asks}</h1>
      </header>
      <div className="practice-shown">
        <Drawn question={question} marked={marked} onAnswer={answer || pending ? null : onAnswer} />
      </div>
      <ol className={classes("practice-choices", question.by)}>
        {question.choices.map(({ id, text }, index) => (
          <li key={id}>
            <Plain
              className={classes(
                "practice-choice",
                right === id && "right",
                right !== null && right !== id && marked === id && "wrong",
                right === null && marked === id && "marked",
              )}
              data-choice={id}
              aria-pressed={marked === id}
              disabled={answer !== null || pending}
              onClick={() => onAnswer(id)}
            >
              <kbd>{index + 1}</kbd>
              <span>{text}</span>
              {right === id && <strong>right</strong>}
              {right !== null && right !== id && marked === id && <strong>your answer</strong>}
            </Plain>
          </li>
        ))}
      </ol>
      {answer && (
        <div className="practice-told" role="status" data-right={marked === right}>
          <p className="practice-verdict">{marked === right ? "Right." : saidOf(answer, marked)}</p>
          <p>{answer.why}</p>
          <Button type="primary" onClick={onNext} data-action="next">
            Next question
          </Button>
        </div>
      )}
    </section>
  );
}

/** What would have come of the answer that was given. */
function saidOf(answer: TheAnswer, chosen: string | null): string {
  const after = answer.choices.find(({ id }) => id === chosen)?.after;
  return `Not this one. ${after?.says ?? ""}`;
}
