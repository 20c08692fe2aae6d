import { useQuery } from "@tanstack/react-query";
import Button from "antd/es/button";
import InputNumber from "antd/es/input-number";
import { useId, useMemo } from "react";

import type { WishAnswer, WishReport } from "../../../api/client";
import { wishQuery } from "../../../api/queries";
import { gradeWord } from "../../../drawing/GradeMark";
import type { Numbered } from "../../../drawing/views";
import { keep, tablesOf } from "../../../parts/csv";
import { mm, money } from "../../../parts/format";
import { useFrameScreen } from "../useFrameScreen";
import { AskedWith } from "./AskedWith";
import { ChosenRig } from "./ChosenRig";
import { Drawings } from "./Drawings";
import { tableHelp } from "./help";
import { Layout, NoTable } from "./Layout";
import { MissingLenses } from "./MissingLenses";
import { type Column, RowTable } from "./RowTable";
import { chosenOf, useBecoming } from "./useBecoming";
import { chainOf, modeName, setTo } from "./words";
import { Plain } from "../../../parts/Plain";

const USUAL = { focal: 24, stop: 2.8 };
const within = (text: string | null, usual: number, low: number, high: number) => {
  const value = text === null ? usual : Number(text);
  return value >= low && value <= high ? value : usual;
};

interface Answered extends Numbered {
  answer: WishAnswer;
}

const answersOf = ({ own, buy, near }: WishReport): Answered[] =>
  [...own, ...buy, ...near].map((answer, index) => ({ answer, row: answer.row, number: index + 1 }));

/** One answer as a row of a table. */
const csvRow = ({ answer, row }: Answered) => ({
  verdict: answer.verdict,
  lens: row.lens,
  body: row.body,
  adapters: row.adapters.join(" "),
  mode: row.mode,
  grade: row.grade,
  set_mm: answer.set_mm,
  set_f_number: answer.set_f_number,
  equivalent_mm: answer.equivalent_mm,
  price: row.price,
  lacks: answer.why,
});

/** A view and a depth that somebody wants, and what on this body gives them. */
export default function Wish() {
  const becoming = useBecoming();
  const { address, words, change, asked, choose, scene, row: named } = becoming;
  const body = address.body ?? "";
  const focal = within(words.get("wf"), USUAL.focal, 1, 5000);
  const depth = words.get("wn");
  const stop = depth === "any" ? null : within(depth, USUAL.stop, 0.3, 100);
  const query = {
    practice: address.practice,
    body,
    focal_mm: focal,
    ...(stop === null ? {} : { f_number: stop }),
    ...(asked.ref === undefined ? {} : { ref: asked.ref }),
  };
  const wish = useQuery({ ...wishQuery(query), enabled: body !== "" });
  const report = wish.data;
  const rows = useMemo(() => (report ? answersOf(report) : []), [report]);
  const names = report?.names ?? {};
  const { error, missing } = useFrameScreen({
    address,
    change,
    names,
    title: "A view I want",
    answer: wish.isSuccess && !wish.isPlaceholderData ? `wish ${body} ${focal} ${stop ?? "any"}` : undefined,
    waiting: body !== "" && wish.isPending,
    help: tableHelp("A view I want"),
    keys: {},
  });
  if (wish.error ?? error) return <NoTable error={wish.error ?? error} onRetry={() => void wish.refetch()} />;
  if (body === "") return <NoTable pick={missing} />;
  if (!report) return <NoTable />;
  const chosen = chosenOf(rows, named, { lens: null, body: null, via: null });
  const key = chosen?.row.key ?? null;
  const { reference } = report;
  return (
    <Layout
      sentence={report.sentence}
      asked={
        <AskedWith becoming={becoming}>
          <Wanted focal={focal} stop={stop} reference={reference.name} change={change} />
        </AskedWith>
      }
      beside={
        chosen && (
          <ChosenRig
            key={key}
            becoming={becoming}
            row={chosen.row}
            names={names}
            set={{ mm: chosen.answer.set_mm, stop: chosen.answer.set_f_number }}
            against={{ mm: focal, stop }}
          />
        )
      }
    >
      <Drawings rows={rows} chosen={key} onChoose={choose} reference={reference} held={focal} scene={scene} depth />
      <Answers
        title="At hand"
        name="own"
        rows={rows.slice(0, report.own.length)}
        report={report}
        choose={choose}
        chosen={key}
      />
      <Answers
        title="With something bought"
        name="buy"
        rows={rows.slice(report.own.length, report.own.length + report.buy.length)}
        report={report}
        choose={choose}
        chosen={key}
      />
      <Answers
        title="Comes near"
        name="near"
        rows={rows.slice(report.own.length + report.buy.length)}
        report={report}
        choose={choose}
        chosen={key}
      />
      <MissingLenses report={report} />
      <div className="toggles becomes-words">
        <Button onClick={() => keep(`${body}-${focal}-mm.csv`, "text/csv", tablesOf(rows.map(csvRow)))}>
          Table as CSV
        </Button>
      </div>
    </Layout>
  );
}

interface WantedProps {
  focal: number;
  stop: number | null;
  reference: string;
  change: (next: Record<string, string | null>, replace?: boolean) => void;
}

function Wanted({ focal, stop, reference, change }: WantedProps) {
  const [focalId, stopId] = [useId(), useId()];
  return (
    <>
      <div className="frame-asked">
        <label htmlFor={focalId}>{`The view of, mm on ${reference}`}</label>
        <InputNumber
          id={focalId}
          min={1}
          max={5000}
          value={focal}
          onChange={(value) => {
            if (value !== null) change({ wf: String(value), row: null }, true);
          }}
        />
      </div>
      <div className="frame-asked">
        <label htmlFor={stopId}>Depth of field as at, f/</label>
        <span className="frame-pair">
          <InputNumber
            id={stopId}
            min={0.3}
            max={100}
            value={stop}
            placeholder="any"
            controls={false}
            onChange={(value) => change({ wn: value === null ? "any" : String(value), row: null }, true)}
          />
          <Plain
            className="filter-toggle"
            aria-pressed={stop === null}
            onClick={() => change({ wn: stop === null ? "" : "any", row: null }, false)}
          >
            any
          </Plain>
        </span>
      </div>
    </>
  );
}

interface AnswersProps {
  title: string;
  name: string;
  rows: readonly Answered[];
  report: WishReport;
  chosen: string | null;
  choose: (key: string) => void;
}

function Answers({ title, name, rows, report, chosen, choose }: AnswersProps) {
  if (rows.length === 0) return null;
  const { names } = report;
  const of = (one: Numbered) => rows.find(({ row }) => row.key === one.row.key)?.answer;
  const columns: readonly Column[] = [
    { head: "set, mm", cell: (one) => mm(of(one)?.set_mm ?? 0, 1) },
    {
      head: "set, f/",
      cell: (one) => {
        const set = of(one)?.set_f_number ?? null;
        return set === null ? "" : setTo(set);
      },
    },
    {
      head: `frames as on ${report.reference.name}, mm`,
      cell: (one) => <strong>{mm(of(one)?.equivalent_mm ?? 0, 1)}</strong>,
    },
    {
      head: "to buy",
      cell: ({ row }) => (row.price === null ? "no price" : row.price === 0 ? "" : money(row.price, report.currency)),
    },
    { head: "how well", words: true, cell: ({ row }) => (row.grade ? gradeWord(row.grade) : "") },
    { head: "what it lacks", words: true, cell: (one) => of(one)?.why ?? "" },
  ];
  return (
    <>
      <h2 className="becomes-words">{title}</h2>
      <RowTable
        name={name}
        rows={rows}
        chosen={chosen}
        onChoose={choose}
        first={{
          head: "lens",
          title: ({ row }) => names[row.lens] ?? row.lens,
          under: ({ row }) => `${chainOf(row.adapters, names)}; ${modeName(row)}`,
        }}
        columns={columns
          .filter(({ head }) => name === "buy" || head !== "to buy")
          .filter(({ head }) => name === "near" || head !== "what it lacks")}
      />
    </>
  );
}
