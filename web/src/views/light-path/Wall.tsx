import "./Wall.css";

import { useQuery } from "@tanstack/react-query";

import type { Fit, FitsReport, Grade, Piece } from "../../api/client";
import { fitsQuery } from "../../api/queries";
import type { Chosen } from "../../app/practice";
import { gradeTitle, GradeMark } from "../../drawing/GradeMark";
import { lensFront } from "../../drawing/scene";
import { Stack } from "../../drawing/Stack";
import { money } from "../../parts/format";

interface Props {
  end: { lens: string } | { body: string };
  practice: Chosen;
  onPick: (id: string) => void;
}

const ORDER: [grade: Grade | null, surely: boolean][] = [
  ["native", true],
  ["full", true],
  ["manual", true],
  ["partial", true],
  ["close_up", true],
  ["partial", false],
  ["modify", true],
  ["none", true],
  ["danger", true],
  [null, true],
];

const NOT_KNOWN = "Whether they reach infinity is not known";

/** What fits the one end that is given: a wall of miniature stacks, by grade. */
export function Wall({ end, practice, onPick }: Props) {
  const fits = useQuery(fitsQuery(end, practice));
  if (fits.isError) return <p role="alert">{fits.error.message}</p>;
  if (!fits.data) return null;
  return <WallOf report={fits.data} onPick={onPick} />;
}

export function WallOf({ report, onPick }: { report: FitsReport; onPick: (id: string) => void }) {
  const longest = Math.max(60, ...report.fits.map((fit) => Math.min(lensFront(fit.section) ?? 0, 190)));
  const width = 156;
  const scale = (width - 14) / longest;
  const groups = ORDER.map(([grade, surely]) => ({
    grade,
    surely,
    fits: report.fits.filter((fit) => fit.grade === grade && fit.surely === surely),
  })).filter(({ fits }) => fits.length > 0);
  const working = report.fits.filter((fit) => fit.works).length;
  return (
    <section className="wall" data-fits-for={report.id}>
      <h2>
        {report.given === "lens" ? "What it fits on" : "What fits on it"}
        <span className="wall-count">{` ${working} of ${report.fits.length}`}</span>
      </h2>
      {groups.map(({ grade, surely, fits }) => (
        <div
          key={`${grade ?? "nothing"} ${String(surely)}`}
          className="wall-grade"
          data-grade={surely ? (grade ?? "nothing") : "not-known"}
        >
          <h3>
            {grade && <GradeMark grade={grade} size={24} />}
            <span>{!surely ? NOT_KNOWN : grade ? gradeTitle(grade) : "Nothing joins them"}</span>
            <span className="wall-count">{fits.length}</span>
          </h3>
          {grade === null ? (
            <p className="wall-none">
              {fits.map((fit) => (
                <button
                  key={fit.id}
                  type="button"
                  className="unfold"
                  data-id={fit.id}
                  onClick={() => onPick(fit.id)}
                >
                  {fit.name}
                </button>
              ))}
            </p>
          ) : (
            <ul>
              {fits.map((fit) => (
                <li key={fit.id}>
                  <Brick fit={fit} report={report} scale={scale} width={width} onPick={onPick} />
                </li>
              ))}
            </ul>
          )}
        </div>
      ))}
    </section>
  );
}

function Brick({
  fit,
  report,
  scale,
  width,
  onPick,
}: {
  fit: Fit;
  report: FitsReport;
  scale: number;
  width: number;
  onPick: (id: string) => void;
}) {
  const lens = report.given === "lens" ? report.id : fit.id;
  const body = report.given === "lens" ? fit.id : report.id;
  const scene = {
    section: fit.section,
    pieces: report.pieces,
    lens,
    body,
    adapters: fit.adapters,
    route: null,
  };
  return (
    <button
      type="button"
      className={`brick ${fit.owned ? "" : "not-owned"}`}
      data-id={fit.id}
      title={fit.sentence}
      onClick={() => onPick(fit.id)}
    >
      {fit.section && <Stack scene={scene} scale={scale} width={width} height={44} />}
      <span className="brick-name">{fit.name}</span>
      <span className="brick-through">{through(fit, report)}</span>
      {fit.warnings.length > 0 && (
        <span className="warning">
          <GradeMark grade="danger" size={14} /> {fit.warnings[0]}
        </span>
      )}
    </button>
  );
}

const short = (piece: Piece | undefined, id: string) => piece?.name ?? id;

function through(fit: Fit, report: FitsReport): string {
  if (fit.section === null) return "";
  const names = fit.adapters.map((id) => short(report.pieces[id], id)).join(" + ") || "bare";
  const owned = fit.adapters.every((id) => (report.pieces[id]?.owned ?? 0) > 0);
  if (owned || fit.adapters.length === 0) return names;
  return fit.price === null ? `${names}, price unknown` : `${names}, ${money(fit.price, report.currency)}`;
}
