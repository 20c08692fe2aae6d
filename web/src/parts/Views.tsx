import "./Views.css";

import { Link } from "react-router";

interface Props<View extends string> {
  /** What they are views of, for who hears the page. */
  label: string;
  views: readonly { view: View; name: string }[];
  current: View;
  addressOf: (view: View) => string;
  /** A screen beside these views. */
  beside?: { path: string; name: string };
}

/** What of a screen is looked at. */
export function Views<View extends string>({ label, views, current, addressOf, beside }: Props<View>) {
  return (
    <nav className="views" aria-label={label}>
      {views.map(({ view, name }) => (
        <Link key={view} to={addressOf(view)} aria-current={view === current ? "page" : undefined}>
          {name}
        </Link>
      ))}
      {beside && <Link to={beside.path}>{beside.name}</Link>}
    </nav>
  );
}
