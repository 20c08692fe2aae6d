import "./Explained.css";

import Popover from "antd/es/popover";
import { type ReactNode, useState } from "react";
import { Link } from "react-router";

import type { Term } from "../api/client";
import { TermDrawing } from "../drawing/terms/TermDrawing";
import { capital } from "./words";
import { Plain } from "./Plain";

/** A mark beside a question; it draws and tells what is asked. */
export function Explained({ term, children }: { term: Term; children?: ReactNode }) {
  const [open, setOpen] = useState(false);
  return (
    <Popover
      open={open}
      onOpenChange={setOpen}
      trigger="hover"
      placement="left"
      content={
        <div className="explained" data-explains={term.key}>
          <TermDrawing term={term.key} />
          <p>
            <strong>{capital(term.term)}</strong>
            {term.also && `, also ${term.also}`}
          </p>
          <p>{term.means}</p>
          {children}
          <Link to={`/terms#${term.key}`}>All terms</Link>
        </div>
      }
    >
      <Plain
        className="explain"
        aria-label={`What is meant by ${term.term}`}
        onClick={() => setOpen(true)}
        onFocus={() => setOpen(true)}
        onBlur={() => {
          // Its own link may be what takes the focus.
          if (!document.querySelector(".explained:hover")) setOpen(false);
        }}
        onKeyDown={(event) => {
          if (event.key !== "Escape" || !open) return;
          event.stopPropagation();
          setOpen(false);
        }}
      >
        ?
      </Plain>
    </Popover>
  );
}
