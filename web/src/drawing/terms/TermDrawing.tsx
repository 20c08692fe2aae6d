import "./terms.css";

import type { Grade, Word } from "../../api/client";
import { GradeMark } from "../GradeMark";
import { FACE_TERMS } from "./FaceTerm";
import { REACH_TERMS } from "./ReachTerm";
import { RIG_TERMS } from "./RigTerm";

const DRAWINGS: Partial<Record<Word, React.ReactNode>> = { ...RIG_TERMS, ...FACE_TERMS, ...REACH_TERMS };
const GRADES: readonly Grade[] = ["native", "full", "manual", "partial", "close_up", "modify", "none", "danger"];

const isGrade = (key: Word): key is Grade & Word => GRADES.some((grade) => grade === key);

/** Whether a term is better drawn than told. */
export const isDrawn = (key: Word) => isGrade(key) || key in DRAWINGS;

/** What a term means, drawn; nothing where words do. */
export function TermDrawing({ term }: { term: Word }) {
  if (isGrade(term))
    return (
      <span className="term-grade">
        <GradeMark grade={term} size={64} />
      </span>
    );
  return DRAWINGS[term] ?? null;
}
