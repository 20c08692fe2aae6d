import type { Grade } from "../../api/client";
import type { GridDifference } from "../../api/planQueries";
import { GradeMark, gradeWord } from "../../drawing/GradeMark";

const MOST = 14;

/** Pairs that are not as they were, each with its marks before and after. */
export function Differs({ found }: { found: GridDifference }) {
  return (
    <>
      <ul className="differs">
        {found.pairs.slice(0, MOST).map((one) => {
          const market = one.before === one.after;
          const [was, is] = market ? [one.could_before, one.could_after] : [one.before, one.after];
          return (
            <li key={`${one.lens} ${one.body}`} data-pair={`${one.lens} ${one.body}`}>
              <Mark grade={was} />
              <span aria-hidden="true">→</span>
              <Mark grade={is} />
              <span>
                {`${one.lens_name} on ${one.body_name}: ${told(was)} → ${told(is)}`}
                {market && <span className="route-gives"> with something to buy</span>}
              </span>
            </li>
          );
        })}
      </ul>
      {found.pairs.length > MOST && <p className="route-gives">{`and ${found.pairs.length - MOST} more`}</p>}
    </>
  );
}

export const told = (grade: Grade | null) => (grade === null ? "nothing" : gradeWord(grade));

export const Mark = ({ grade }: { grade: Grade | null }) =>
  grade === null ? <span className="mark-none" /> : <GradeMark grade={grade} size={20} />;
