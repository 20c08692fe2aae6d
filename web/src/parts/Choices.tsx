import "./Choices.css";

import type { ReactNode } from "react";

interface Props {
  /** Short answers stand closer together. */
  numbers?: boolean;
  labelledBy?: string;
  children: ReactNode;
}

/** Answers to tap, large enough for a thumb. */
export function Choices({ numbers = false, labelledBy, children }: Props) {
  return (
    <div className={numbers ? "choices numbers" : "choices"} role="group" aria-labelledby={labelledBy}>
      {children}
    </div>
  );
}
