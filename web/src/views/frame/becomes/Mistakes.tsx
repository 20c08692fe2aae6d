import type { RigBecomes } from "../../../api/client";

/** What is easily done wrong with these numbers, each struck out beside what is right. */
export function Mistakes({ mistakes }: { mistakes: RigBecomes["mistakes"] }) {
  if (mistakes.length === 0) return null;
  return (
    <>
      <h2>Easily done wrong</h2>
      <ul className="mistakes">
        {mistakes.map(({ where, title, right, wrong, says }) => (
          <li key={where} data-mistake={where}>
            {`${title}: `}
            <strong>{right}</strong>
            {", not "}
            <s>{wrong}</s>
            <small>{says}</small>
          </li>
        ))}
      </ul>
    </>
  );
}
