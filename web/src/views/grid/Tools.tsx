import { addressOf } from "../../api/client";
import Input, { type InputRef } from "antd/es/input/Input";
import Select from "antd/es/select";
import { type RefObject, useEffect, useState } from "react";
import { Link } from "react-router";

import type { Chosen } from "../../app/practice";
import type { Words } from "../../app/useChange";
import { gapMark, ringMark, weightMark } from "../../drawing/grid/GridCells";
import { gradeTitle, GradeMark } from "../../drawing/GradeMark";
import { useSettled } from "../../parts/useSettled";
import { type Shown, SORTINGS } from "./useGrid";
import { Plain } from "../../parts/Plain";

interface Props {
  shown: Shown;
  search: RefObject<InputRef | null>;
  practice: Chosen;
  onChange: (words: Words) => void;
}

/** What is shown of the grid, and what leaves it. */
export function Tools({ shown, search, practice, onChange }: Props) {
  const { words, sorting, mine, stranded } = shown;
  // What is typed stands at once; the address follows when the hand rests.
  const [typed, setTyped] = useState(words);
  const settled = useSettled(typed, 120);
  useEffect(() => {
    if (settled !== words) onChange({ q: settled });
    // eslint-disable-next-line react-hooks/exhaustive-deps -- what was typed leads, the address follows
  }, [settled]);
  return (
    <div className="toggles grid-tools" role="group" aria-label="What is shown">
      <Input
        ref={search}
        className="grid-search"
        aria-label="Lenses by any part of their names or mounts"
        placeholder="Lenses by name or mount"
        value={typed}
        allowClear
        onChange={(event) => setTyped(event.target.value)}
      />
      <Select
        aria-label="Order of the lenses"
        className="grid-sorting"
        value={sorting}
        options={[...SORTINGS]}
        onChange={(value) => onChange({ sort: value === "mount" ? null : value })}
      />
      <Plain className="filter-toggle" aria-pressed={mine} onClick={() => onChange({ mine: mine ? null : "1" })}>
        only what you own
      </Plain>
      <Plain
        className="filter-toggle"
        aria-pressed={stranded}
        onClick={() => onChange({ stranded: stranded ? null : "1" })}
      >
        only stranded lenses
      </Plain>
      <a className="filter-toggle" href={addressOf("/api/v1/grid/csv", { practice })}>
        Table as CSV
      </a>
      <Link className="filter-toggle" to="/plan">
        Plan what to buy
      </Link>
    </div>
  );
}

const GRADES = ["native", "full", "manual", "partial", "close_up", "modify", "none", "danger"] as const;

/** What marks and tiles mean. */
export function Legend() {
  return (
    <ul className="grid-legend">
      {GRADES.map((grade) => (
        <li key={grade}>
          <GradeMark grade={grade} size={18} /> {gradeTitle(grade)}
        </li>
      ))}
      <li>
        <span className="legend-tile" /> works with what you own
      </li>
      <li>
        <span className="legend-tile could" /> would, with something to buy
      </li>
      <li>
        <svg width="16" height="16" aria-hidden="true">
          <path className="grid-unlisted" d={ringMark(8, 8)} />
        </svg>{" "}
        would, with a ring that is not listed
      </li>
      <li>
        <svg width="12" height="12" aria-hidden="true">
          <path className="grid-loaded" d={weightMark(2, 2)} />
        </svg>{" "}
        support the lens: a joint carries too much
      </li>
      <li>
        <svg width="12" height="12" aria-hidden="true">
          <path className="grid-unseen" d={gapMark(3, 2)} />
        </svg>{" "}
        whether its rear clears is not known
      </li>
    </ul>
  );
}
