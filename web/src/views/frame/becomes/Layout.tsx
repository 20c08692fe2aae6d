import "./Layout.css";

import type { ReactNode } from "react";

import { Failed } from "../../../parts/Failed";
import { unbroken } from "../../../parts/format";
import { FrameViews } from "../FrameViews";

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
      <FrameViews />
      <div className="sheet becomes">
        <div className="becomes-main">
          <div className="screen-head" aria-live="polite">
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

interface NoTableProps {
  error?: Error | null;
  onRetry?: () => void;
  /** Which end has to be picked first. */
  pick?: "lens" | "body" | null;
  /** Why there can be none. */
  nothing?: string | null;
}

const again = () => window.location.reload();

/** Where there is no table: the error, what is to be picked first, why there is none, or that it comes. */
export function NoTable({ error = null, onRetry = again, pick = null, nothing = null }: NoTableProps) {
  if (error) return <Failed error={error} onRetry={onRetry} />;
  return (
    <>
      <FrameViews />
      {pick === null && nothing === null ? (
        <div className="sheet skeleton" />
      ) : (
        <div className="message" data-state={nothing === null ? "no-pair" : "nothing-fits"}>
          <h1>{nothing ?? `Which ${pick}?`}</h1>
          {nothing === null && <p>Pick it above.</p>}
        </div>
      )}
    </>
  );
}
