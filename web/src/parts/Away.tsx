import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";

import { awayQuery } from "../api/pieceQueries";

/** Who has a piece, where that is not simply its owner; nothing where it is. */
export function AwaySaid({ id }: { id: string }) {
  const one = useQuery(awayQuery).data?.pieces.find((piece) => piece.id === id);
  return one ? <span className="away-said" data-away-piece={id}>{` ${one.says}`}</span> : null;
}

/** The same in a word, where there is little room. */
export function AwayMark({ id }: { id: string }) {
  const one = useQuery(awayQuery).data?.pieces.find((piece) => piece.id === id);
  return one ? (
    <em className="away-said" title={one.says}>
      {` ${one.state}`}
    </em>
  ) : null;
}

/** What has to be given back soon, or is to come back: on top of what one has. */
export function DueSoon() {
  const due = useQuery(awayQuery).data?.pieces.filter(({ soon }) => soon) ?? [];
  if (due.length === 0) return null;
  return (
    <ul className="due-soon" aria-label="To be given back soon">
      {due.map(({ kind, id, name, says }) => (
        <li key={`${kind} ${id}`}>
          <Link to={`/log/record/${kind}/${id}`}>{name}</Link>
          {`: ${says}`}
        </li>
      ))}
    </ul>
  );
}
