import "./Wall.css";

import { useQuery } from "@tanstack/react-query";

import type { Fit, FitsReport, Grade, Piece } from "../../api/client";
import { fitsQuery } from "../../api/queries";
import type { Chosen } from "../../app/practice";
import { gradeTitle, GradeMark } from "../../drawing/GradeMark";
import { lensFront } from "../../drawing/scene";
import { smallOf, Stack } from "../../drawing/Stack";
import { money } from "../../parts/format";
import { unlistedIn, withRing } from "../../parts/unlisted";
import { Plain } from "../../parts/Plain";

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

interface Told {
  /** For what tells one group from another. */
  key: string;
  title: string;
  grade: Grade | null;
  fits: Fit[];
}

/** By grade, what works first; then what a ring that is not listed would join, and what none can. */
function groupsOf({ fits }: FitsReport): Told[] {
  const rings = fits.filter((fit) => !fit.works && fit.would_need);
  const rest = fits.filter((fit) => fit.works || !fit.would_need);
  const graded = ORDER.flatMap(([grade, surely]): Told[] =>
    grade === null
      ? []
      : [
          {
            key: surely ? grade : "not-known",
            title: surely ? gradeTitle(grade) : NOT_KNOWN,
            grade,
            fits: rest.filter((fit) => fit.grade === grade && fit.surely === surely),
          },
        ],
  );
  const nothing = rest.filter((fit) => fit.grade === null);
  const glass = nothing.filter((fit) => fit.with_glass);
  const works = ({ fits: some }: Told) => some.some((fit) => fit.works);
  return [
    ...graded.filter(works),
    {
      key: "not-listed",
      title: "Fits with a ring that is not listed",
      grade: null,
      fits: rings.map(withRing),
    },
    ...graded.filter((one) => !works(one)),
    { key: "with-glass", title: "Only with correcting glass", grade: null, fits: glass },
    {
      key: "nothing",
      title: "No ring can join them",
      grade: null,
      fits: nothing.filter((fit) => !fit.with_glass),
    },
  ].filter((one) => one.fits.length > 0);
}

export function WallOf({ report, onPick }: { report: FitsReport; onPick: (id: string) => void }) {
  const longest = Math.max(60, ...report.fits.map((fit) => Math.min(lensFront(fit.section) ?? 0, 190)));
  const width = 156;
  const scale = (width - 14) / longest;
  const working = report.fits.filter((fit) => fit.works).length;
  return (
    <section className="wall" data-fits-for={report.id}>
      <h2>
        {report.given === "lens" ? "What it fits on" : "What fits on it"}
        <span className="wall-count">{` ${working} of ${report.fits.length}`}</span>
      </h2>
      {groupsOf(report).map(({ key, title, grade, fits }) => (
        <div key={key} className="wall-grade" data-grade={key}>
          <h3>
            {grade && <GradeMark grade={grade} size={24} />}
            <span>{title}</span>
            <span className="wall-count">{fits.length}</span>
          </h3>
          {fits.every((fit) => fit.grade === null) ? (
            <p className="wall-none">
              {fits.map((fit) => (
                <Plain key={fit.id} className="unfold" data-id={fit.id} onClick={() => onPick(fit.id)}>
                  {fit.name}
                </Plain>
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
    <Plain
      className={`brick ${fit.owned ? "" : "not-owned"}`}
      data-id={fit.id}
      title={fit.sentence}
      onClick={() => onPick(fit.id)}
    >
      {fit.section && <Stack small={smallOf(scene)} scale={scale} width={width} height={44} />}
      <span className="brick-name">{fit.name}</span>
      <span className="brick-through">{through(fit, report)}</span>
      {fit.warnings.length > 0 && (
        <span className="warning">
          <GradeMark grade="danger" size={14} /> {fit.warnings[0]}
        </span>
      )}
    </Plain>
  );
}

const short = (piece: Piece | undefined, id: string) => piece?.name ?? id;

function through(fit: Fit, report: FitsReport): string {
  if (fit.section === null) return "";
  const names = fit.adapters.map((id) => short(report.pieces[id], id)).join(" + ") || "bare";
  const owned = fit.adapters.every((id) => (report.pieces[id]?.owned ?? 0) > 0);
  if (owned || fit.adapters.length === 0 || unlistedIn(fit.adapters)) return names;
  return fit.price === null ? `${names}, price unknown` : `${names}, ${money(fit.price, report.currency)}`;
}
