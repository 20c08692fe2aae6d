import { Link } from "react-router";

import type { Fit, WouldFitReport } from "../../api/client";
import { gradeTitle, GradeMark } from "../../drawing/GradeMark";
import { lensFront } from "../../drawing/scene";
import { smallOf, Stack } from "../../drawing/Stack";
import { Choices } from "../../parts/Choices";
import { money } from "../../parts/format";
import { withRing } from "../../parts/unlisted";
import { Plain } from "../../parts/Plain";

const UNKNOWN_GENERATION = "Its generation is not known: look at the lens before it is mounted.";

interface AnswersProps {
  answer: WouldFitReport;
  mount: string;
  onGeneration: (id: string | null) => void;
}

/** Which generation it is, where that decides: one tap, or the key. */
function Generations({ answer, mount, onGeneration }: AnswersProps) {
  if (answer.generations.length < 2) return null;
  return (
    <section className="fit-generation">
      <h2>Its generation decides what may be done</h2>
      <Choices numbers>
        {answer.generations.map(({ id, label, chosen }) => (
          <Plain key={id} data-generation={id} aria-pressed={chosen} onClick={() => onGeneration(chosen ? null : id)}>
            {label}
          </Plain>
        ))}
        <Link className="fit-key" to={`/mounts/${mount}/key`}>
          Which is it?
        </Link>
      </Choices>
    </section>
  );
}

/** Every body at hand, and what it comes to on each. */
export function Answers(props: AnswersProps) {
  const { answer } = props;
  const { report } = answer;
  const longest = Math.max(60, ...report.fits.map((fit) => Math.min(lensFront(fit.section) ?? 0, 170)));
  const scale = 104 / longest;
  const assumed = answer.assumed.map((word) => word.replaceAll("_", " ").replace(/ mm$/, ""));
  const begin = new URLSearchParams({
    item: "new",
    with_name: answer.name,
    with_mount: report.pieces[report.id]?.mount ?? "",
  });
  const generationKnown = answer.generations.length === 0 || answer.generations.some(({ chosen }) => chosen);
  const works = report.fits.filter((fit) => fit.works).length;
  const more = report.fits.filter((fit) => !fit.works && fit.would_need).length;
  const rings = more ? ` On ${more} ${works ? "more " : ""}with a ring that is not listed.` : "";
  return (
    <section data-state="would-fit">
      <Generations {...props} />
      <p className="fit-verdict">
        {report.fits.length === 0
          ? "There is no body in the kit yet."
          : `${works ? `On ${works} of ${report.fits.length} bodies.` : "On none of the bodies with what is listed."}${rings}`}
      </p>
      <ul className="fit-bodies">
        {report.fits.map((listed) => {
          const unlisted = !listed.works && listed.would_need;
          const fit = unlisted ? withRing(listed) : listed;
          return (
            <li
              key={fit.id}
              data-body={fit.id}
              data-grade={unlisted ? "not-listed" : fit.surely ? (fit.grade ?? "nothing") : "not-known"}
            >
              <span className="fit-head">
                {fit.grade ? <GradeMark grade={fit.grade} size={26} /> : <span className="cell-nothing" />}
                {answer.id === null ? (
                  <strong>{fit.name}</strong>
                ) : (
                  <Link to={`/?lens=${answer.id}&body=${fit.id}`}>{fit.name}</Link>
                )}
                <span className="route-gives">{gradeOf(listed)}</span>
              </span>
              {fit.section && (
                <Stack
                  small={smallOf({
                    section: fit.section,
                    pieces: report.pieces,
                    lens: report.id,
                    body: fit.id,
                    adapters: fit.adapters,
                    route: null,
                  })}
                  scale={scale}
                  width={118}
                  height={44}
                />
              )}
              <span className="fit-text">
                <span>{unlisted ? "" : fit.sentence}</span>
                <strong>{buying(listed, report)}</strong>
                {fit.warnings.map((warning) => (
                  <span key={warning} className="warning">
                    <GradeMark grade="danger" size={15} /> {warning}
                  </span>
                ))}
              </span>
            </li>
          );
        })}
      </ul>
      <p className="route-gives">
        {assumed.length
          ? [
              "Assumed as usual for this mount:",
              `${assumed.join(", ")}.`,
              generationKnown ? "" : UNKNOWN_GENERATION,
            ].join(" ")
          : "Nothing else is known of this lens: look at it before it is mounted."}
      </p>
      <p className="message-actions">
        <Link to={`/kit/lenses?${begin.toString()}`}>I bought it: add it</Link>
      </p>
    </section>
  );
}

/** What a pair comes to; with a ring that nobody lists where nothing else joins it. */
function gradeOf(fit: Fit): string {
  if (!fit.works && fit.would_need) return `${gradeTitle(fit.would_need.grade)}, with a ring that is not listed`;
  if (!fit.surely) return "Not known";
  if (fit.grade) return gradeTitle(fit.grade);
  return fit.with_glass ? "with correcting glass alone" : "no ring can join them";
}

/** What would have to be bought for it. */
function buying(fit: Fit, report: WouldFitReport["report"]): string {
  if (!fit.works && fit.would_need) return `To look for: ${fit.would_need.ring}.`;
  if (!fit.grade || fit.section === null) return "";
  const missing = fit.adapters.filter((id) => !report.pieces[id]?.owned);
  if (fit.adapters.length === 0) return "Straight on, no adapter.";
  const names = (ids: readonly string[]) => ids.map((id) => report.pieces[id]?.name ?? id).join(" + ");
  if (missing.length === 0) return `With what is in the kit: ${names(fit.adapters)}.`;
  const price = fit.price === null ? "price unknown" : money(fit.price, report.currency);
  return `To buy: ${names(missing)}, ${price}.`;
}
