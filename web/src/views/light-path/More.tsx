import "./More.css";

import Button from "antd/es/button";

import { Link } from "react-router";

import type { MatchReport, Piece } from "../../api/client";

/** How many routes no one could want, and a way to see them; how many are not written out. */
export function Folded({
  report,
  everything,
  onToggle,
}: {
  report: MatchReport;
  everything: boolean;
  onToggle: (everything: boolean) => void;
}) {
  const { folded, left_out: leftOut, not_judged: notJudged, total } = report;
  if (folded + leftOut + notJudged === 0 && !everything) return null;
  const said = [
    everything && leftOut + notJudged === 0 ? `All ${total} routes are here.` : "",
    leftOut > 0 ? `${leftOut} more are left out here: allow fewer adapters in a row, or put one together.` : "",
    folded > 0 && !everything
      ? `${folded} more ${folded === 1 ? "is" : "are"} no better in anything than one of these.`
      : "",
    notJudged > 0
      ? `There are ${notJudged} more: too many to try, so only the most promising were. Allow fewer adapters in a row, or archive rings that do not matter.`
      : "",
  ];
  return (
    <p className="folded">
      <span>{said.filter(Boolean).join(" ")}</span>
      {(folded > 0 || everything) && (
        <Button size="small" type="link" onClick={() => onToggle(!everything)}>
          {everything ? "Fold them" : "Show them"}
        </Button>
      )}
    </p>
  );
}

/** What would have to exist, or to be done; what can be undone comes first. Each leads on. */
export function WouldNeed({ report }: { report: MatchReport }) {
  const [lens, body] = [report.pieces[report.lens], report.pieces[report.body]];
  return (
    <ul className="findings needs">
      {report.would_need.map((need) => (
        <li key={need.text} data-kind={need.kind} className={need.practical === false ? "impractical" : ""}>
          {need.text}
          {need.lens && need.body && (need.lens !== report.lens || need.body !== report.body) && (
            <Link className="need-leads" to={`/?lens=${need.lens}&body=${need.body}`}>
              Show it so
            </Link>
          )}
          {need.piece && lens && body && need.kind !== "correcting_glass" && (
            <Link className="need-leads" to={addRing(lens, body, need.piece, report)}>
              Add this ring
            </Link>
          )}
          {need.kind === "shared_plate" && need.mount && lens && (
            <Link className="need-leads" to={addPlate(need.mount, report)}>
              Enter such a plate
            </Link>
          )}
          {need.search_for.length > 0 && (
            <span className="route-gives need-search">
              {`Search for: ${need.search_for.map((words) => `“${words}”`).join(", ")}.`}
            </span>
          )}
        </li>
      ))}
    </ul>
  );
}

type NeededPiece = NonNullable<MatchReport["would_need"][number]["piece"]>;

/** A new ring with its ends and its length filled in; afterwards back to this pair. */
function addRing(lens: Piece, body: Piece, piece: NeededPiece, report: MatchReport): string {
  const query = new URLSearchParams({
    item: "new",
    with_name: `Ring ${lens.mount_name}–${body.mount_name}`,
    with_lens_mount: piece.lens_mount,
    with_body_mount: piece.body_mount,
    with_length_mm: String(piece.length_mm),
    back: `/?lens=${report.lens}&body=${report.body}`,
  });
  const more = {
    helicoid_mm: piece.helicoid_mm || null,
    aperture_control: piece.aperture_control === "none" ? null : piece.aperture_control,
    link: piece.link === "none" ? null : piece.link,
    from_protocol: piece.from_protocol,
    to_protocol: piece.to_protocol,
  };
  for (const [key, value] of Object.entries(more)) if (value != null) query.set(`with_${key}`, String(value));
  return `/kit/adapters?${query.toString()}`;
}

/** The lens with a plate of the body's mount filled in: saved, it is seen as it would be then. */
function addPlate(mount: string, report: MatchReport): string {
  const query = new URLSearchParams({
    item: report.lens,
    give_mount: mount,
    back: `/?lens=mount..${report.lens}..${mount}&body=${report.body}`,
  });
  return `/kit/lenses?${query.toString()}`;
}
