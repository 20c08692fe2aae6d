import "./Said.css";

import type { Witnessed } from "../api/client";

const SOURCES = { own: "own trial", maker: "maker", shop: "shop", review: "review" } as const;

/** Evidence for and against, counted on both sides. `own` is the item whose page it stands on. */
export function Said({ witnessed, own }: { witnessed: Witnessed; own?: string }) {
  if (witnessed.testimonies.length === 0) return null;
  return (
    <section className="witnessed" data-confirmed={witnessed.confirmed} data-contradicted={witnessed.contradicted}>
      <h3>{`Evidence: ${witnessed.confirmed} for, ${witnessed.contradicted} against`}</h3>
      <ul>
        {witnessed.testimonies.map(({ item, about, evidence }, index) => (
          <li key={index} className={evidence.verdict}>
            <span className="verdict">{evidence.verdict === "confirmed" ? "for" : "against"}</span>
            <span>
              {evidence.claim}
              {evidence.note && <span className="route-gives">{` ${evidence.note}`}</span>}
            </span>
            <span className="route-gives">
              {[SOURCES[evidence.source], evidence.on ?? "", about.length > 1 || item !== own ? about.join(" + ") : ""]
                .filter(Boolean)
                .join(", ")}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
