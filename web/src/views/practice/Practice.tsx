import "./Practice.css";

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import Button from "antd/es/button";
import { useState } from "react";
import { Link } from "react-router";

import { client, unwrap } from "../../api/client";
import {
  type AskedQuestion,
  type Coming,
  type PracticeRoom,
  questionQuery,
  roomQuery,
  type SkillId,
  type TheAnswer,
} from "../../api/exerciseQueries";
import { about } from "../../api/queries";
import { usePractices } from "../../app/Practices";
import { useScreen } from "../../app/screen";
import { useChange } from "../../app/useChange";
import { Failed } from "../../parts/Failed";
import { UndoBar } from "../../parts/UndoBar";
import { Asked } from "./Asked";
import { Outcome } from "./Outcome";
import { Skills } from "./Skills";
import { skillNamed } from "./skillNames";

interface Given {
  /** When it was given, and how many were before it. */
  at: number;
  before: number;
  coming: Coming;
  question: AskedQuestion;
  chosen: string;
  answer: TheAnswer;
}

/** A question from one's own gear, what comes of the answer, and how it stands. */
export default function Practice() {
  const [words, change] = useChange();
  const practice = usePractices().own;
  const queries = useQueryClient();
  const only = skillNamed(words.get("only"));
  const room = useQuery(roomQuery(only));
  const [last, setGiven] = useState<Given | null>(null);
  const [marked, setMarked] = useState<string | null>(null);
  // What was taken back was not answered.
  const given = last && room.dataUpdatedAt > last.at && total(room.data) <= last.before ? null : last;
  const coming = given?.coming ?? room.data?.next ?? null;
  const asked = useQuery({
    ...questionQuery(coming ?? { skill: "reach", trap: "", seed: 0, difficulty: 0.5 }, practice),
    enabled: coming !== null && given === null,
  });
  const question = given?.question ?? (coming === null ? undefined : asked.data);
  const answering = useMutation({
    mutationFn: async ({ coming: of, chosen }: { coming: Coming; chosen: string; question: AskedQuestion }) =>
      unwrap(
        await client.POST("/api/v1/exercises/answers", {
          params: { query: { practice } },
          body: { skill: of.skill, trap: of.trap, seed: of.seed, wanted: of.difficulty, answered: chosen },
        }),
      ),
    onSuccess: (answer, { coming: of, chosen, question: put }) => {
      setGiven({ coming: of, question: put, chosen, answer, at: Date.now(), before: total(room.data) });
      void queries.invalidateQueries({ predicate: about("exercises", "history") });
    },
  });
  const answer = (chosen: string) => {
    if (coming && question && given === null && !answering.isPending) answering.mutate({ coming, chosen, question });
  };
  const next = () => {
    setGiven(null);
    setMarked(null);
    window.scrollTo({ top: 0 });
  };
  const choose = (skill: SkillId | null) => {
    next();
    change({ only: skill }, false);
  };
  const move = (by: number) => {
    if (!question || given) return;
    const at = question.choices.findIndex(({ id }) => id === marked);
    const to =
      question.choices[(at + by + question.choices.length + (at < 0 && by < 0 ? 1 : 0)) % question.choices.length];
    setMarked(to?.id ?? null);
  };
  const numbered = Object.fromEntries(
    (question?.choices ?? []).map(({ id }, index) => [String(index + 1), () => answer(id)]),
  );
  useScreen({
    title: "Practice",
    answer: room.data && (question || coming === null) ? (given ? "answered" : coming ? "asked" : "done") : undefined,
    busy: room.isPending || (coming !== null && asked.isPending && given === null),
    className: "practice",
    keys: {
      ...numbered,
      ArrowDown: () => move(1),
      ArrowUp: () => move(-1),
      Enter: () => (given ? next() : marked && answer(marked)),
    },
    help: {
      title: "Practice",
      keys: [
        ["1 to 5", "answer"],
        ["↑ ↓", "from answer to answer"],
        ["Enter", "give the marked answer; the next question"],
      ],
    },
  });
  const failed = room.error ?? asked.error ?? answering.error;
  if (failed)
    return (
      <Failed
        error={failed}
        onRetry={() => {
          answering.reset();
          void room.refetch();
          void asked.refetch();
        }}
      />
    );
  if (!room.data) return <div className="sheet skeleton" aria-busy="true" />;
  return (
    <div className="practice-page">
      <p className="practice-today" role="status">
        {todaySaid(room.data.answered_today, room.data.left_today, room.data.minutes)}
        <UndoBar />
        {only !== null && (
          <Button size="small" onClick={() => choose(null)}>
            {`${room.data.skills.find(({ skill }) => skill === only)?.title ?? only} only: back to all`}
          </Button>
        )}
      </p>
      {question ? (
        <Asked
          key={`${question.skill} ${question.trap} ${question.seed} ${question.wanted}`}
          question={question}
          marked={given?.chosen ?? marked}
          answer={given?.answer ?? null}
          pending={answering.isPending}
          onAnswer={answer}
          onNext={next}
        />
      ) : coming === null ? (
        <Done later={room.data.later ?? null} />
      ) : (
        <div className="practice-asked skeleton" aria-busy="true" />
      )}
      {given && <Outcome answer={given.answer} chosen={given.chosen} question={given.question} />}
      <Skills room={room.data} only={only} onChoose={choose} />
      <p className="message-actions">
        <Link to="/practice/sheet">A sheet for a class</Link>
        <a href="/api/v1/exercises/table">Answers (CSV)</a>
      </p>
    </div>
  );
}

const total = (room: PracticeRoom | undefined) => (room?.skills ?? []).reduce((sum, { answered }) => sum + answered, 0);

function todaySaid(answered: number, left: number, minutes: number): string {
  const questions = left === 1 ? "1 question" : `${left} questions`;
  const time = minutes === 1 ? "1 minute" : `${minutes} minutes`;
  if (left === 0) return answered === 0 ? "Nothing is due." : `${answered} answered today.`;
  return answered === 0 ? `Today: ${questions}, ${time}.` : `Today: ${questions} left, ${time}.`;
}

function Done({ later }: { later: string | null }) {
  const when = later === null ? null : new Date(later);
  return (
    <section className="practice-done">
      <h1>That is all for today.</h1>
      <p>
        {when === null
          ? "Choose a skill below to go on with it."
          : `The next comes ${when.toLocaleDateString("en-GB", { weekday: "long", day: "numeric", month: "long" })}. ` +
            "Choose a skill below to go on with it now."}
      </p>
    </section>
  );
}
