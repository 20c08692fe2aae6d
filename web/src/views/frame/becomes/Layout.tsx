import "./Layout.css";

import type { ReactNode } from "react";

import { Failed } from "../../../parts/Failed";
import { unbroken } from "../../../parts/format";
import { Views } from "../Views";

interface Props {
  sentence: string;
  more?: readonly string[];
  asked: ReactNode;
  /** What is chosen, beside it all. */
  beside: ReactNode;
  children: ReactNode;
}

/** A sentence, what is asked, drawings and table, and beside them what is chosen. */
export function Layout({ sentence, more = [], asked, beside, children }: Props) {
  return (
    <>
      <Views />
      <div className="sheet becomes">
        <div className="becomes-main">
          <div className="frame-head" aria-live="polite">
            <h1>{unbroken(sentence)}</h1>
            {more.length > 0 && <p>{unbroken(more.join(" "))}</p>}
          </div>
          {asked}
          {children}
        </div>
        {beside && <div className="becomes-beside">{beside}</div>}
      </div>
    </>
  );
}

interface MissingProps {
  error: Error | null;
  onRetry: () => void;
  /** Which end has to be picked first. */
  pick: string | null;
}

/** Where there is no table: the error, or what has to be picked first. */
export function NoTable({ error, onRetry, pick }: MissingProps) {
  if (error) return <Failed error={error} onRetry={onRetry} />;
  if (pick === null) return null;
  return (
    <>
      <Views />
      <div className="message" data-state="no-pair">
        <h1>{pick}</h1>
        <p>Pick it above.</p>
      </div>
    </>
  );
}
