import "./Views.css";

import { Link, useSearchParams } from "react-router";

import { addressOf, VIEWS, viewIn } from "./viewNames";

/** What of the frame is looked at: its picture, or one of the tables beside it. */
export function Views() {
  const [words] = useSearchParams();
  const current = viewIn(words);
  return (
    <nav className="frame-views" aria-label="Of the frame">
      {VIEWS.map(({ view, name }) => (
        <Link key={view} to={addressOf(words, view)} aria-current={view === current ? "page" : undefined}>
          {name}
        </Link>
      ))}
    </nav>
  );
}
