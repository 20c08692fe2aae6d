import "./Functions.css";

import type { MatchReport, Route } from "../../api/client";
import { FUNCTION_NAMES, STATE_WORDS } from "./functions";

/** Functions kept, by hand, lost, and by which link. */
export function Functions({ report, route }: { report: MatchReport; route: Route }) {
  const { details } = route;
  if (!details) return null;
  const modes = details.exposure_modes;
  return (
    <section>
      <h2>Functions</h2>
      <ul className="functions">
        {details.functions.map(({ function: name, state, link, passed, offered, taken }) => (
          <li key={name} className={`function ${state}`} data-function={name}>
            <span>{FUNCTION_NAMES[name] ?? name}</span>
            <span className="function-state">
              {STATE_WORDS[state]}
              {name === "exposure_modes" && modes.length > 0 ? ` (${modes.join(", ")})` : ""}
            </span>
            <span
              className="function-link"
              title={[
                offered ? "the lens offers it" : "the lens does not offer it",
                ...passed.map((one) => `${report.pieces[one.link]?.name ?? one.link} passes it: ${one.level}`),
                taken ? "the body takes it" : "the body does not take it",
              ].join("; ")}
            >
              {link && state !== "full" ? `at ${report.pieces[link]?.name ?? link}` : ""}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
