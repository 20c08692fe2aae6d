import "./GradeMark.css";

import type { Grade } from "../api/client";
import { headed, word } from "../parts/words";

/** The word of a grade within a sentence. */
export const gradeWord = (grade: Grade) => word(grade);

/** The word of a grade at the beginning of a line. */
export const gradeTitle = (grade: Grade) => headed(grade);

/** Nobody can tell. */
export function UnknownMark({ size = 28 }: { size?: number }) {
  return (
    <svg className="grade-mark grade-unknown" viewBox="0 0 28 28" width={size} height={size} aria-hidden="true">
      <text x="14" y="22" textAnchor="middle" fontSize="24" fill="currentColor">
        ?
      </text>
    </svg>
  );
}

/** Two seat lines: meeting, bridged, apart, broken, far apart, crossed. */
export function GradeMark({ grade, size = 28 }: { grade: Grade; size?: number }) {
  return (
    <svg className={`grade-mark grade-${grade}`} viewBox="0 0 28 28" width={size} height={size} aria-hidden="true">
      <path d={GRADE_SHAPES[grade]} fill="none" stroke="currentColor" strokeWidth={grade === "native" ? 5 : 3.2} />
      {grade === "full" && <path d="M9 9.5h10v9H9z" fill="currentColor" />}
    </svg>
  );
}

export const GRADE_SHAPES: Record<Grade, string> = {
  native: "M11.6 3v22M16.4 3v22",
  full: "M9 3v22M19 3v22",
  manual: "M10 3v22M18 3v22",
  partial: "M8 3v22M20 3v9M20 17v8",
  close_up: "M4 3v22M24 3v22",
  modify: "M7 3v9l5 4v9M21 3v22",
  none: "M8 3v5M8 12v4M8 20v5M20 3v5M20 12v4M20 20v5",
  danger: "M5 4l18 20M23 4L5 24",
};
