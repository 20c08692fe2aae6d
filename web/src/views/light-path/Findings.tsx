import type { Finding, Route } from "../../api/client";

const SEVERITY_WORDS: Record<Finding["severity"], string> = {
  danger: "Danger",
  caution: "Caution",
  limit: "Limit",
  info: "Note",
};

/** What was found, danger first. */
export function Findings({ route }: { route: Route }) {
  return (
    <section>
      <h2>Found</h2>
      {route.usable_says.map((says) => (
        <p key={says} data-usable-says>
          {says}
        </p>
      ))}
      {route.findings.length === 0 && <p>Nothing stands against it.</p>}
      <ul className="findings">
        {route.findings.map((finding) => (
          <li
            key={`${finding.code} ${finding.link ?? ""} ${finding.text}`}
            className={finding.severity}
            data-code={finding.code}
          >
            <strong>{SEVERITY_WORDS[finding.severity]}</strong> {finding.text}
          </li>
        ))}
      </ul>
    </section>
  );
}
