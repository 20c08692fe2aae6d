import type { OutingReport } from "../../api/client";

/** Rings that several lenses share, filters of one size, batteries, and what stays at home. */
export function Sharing({ report }: { report: OutingReport }) {
  const { shared, filters, batteries, alike, at_home: home, at_home_g: grams } = report;
  if (report.numbers.length === 0) return null;
  const missing = filters.steps.filter(({ ring }) => ring === null);
  const rings = filters.steps.flatMap(({ ring }) => ring ?? []);
  return (
    <>
      <section data-section="shared">
        <h2>Rings that are shared</h2>
        {shared.length === 0 && <p>None: every lens keeps its own.</p>}
        <ul className="findings">
          {shared.map((one) => (
            <li key={one.adapter}>
              {`${one.name}${one.copies > 1 ? `, ${one.copies} of them` : ""}: `}
              {`stays on ${one.stays_on.join(", ")}`}
              {one.borrowed_by.length > 0 ? `; ${one.borrowed_by.join(", ")} borrows it.` : "."}
            </li>
          ))}
        </ul>
      </section>
      <section data-section="filters">
        <h2>Filters of one size</h2>
        {filters.size_mm === null ? (
          <p>No front thread is known.</p>
        ) : (
          <p>
            {`${filters.size_mm} mm for all`}
            {filters.filters.length > 0 ? `: ${filters.filters.join(", ")}. ` : ". "}
            {rings.length > 0 ? `Take ${rings.join(", ")}. ` : ""}
            {missing.length > 0
              ? `You own no ring from ${missing.map((one) => `${one.thread_mm} mm`).join(", ")}. `
              : ""}
            {filters.without.length > 0 ? `Without a known thread: ${filters.without.join(", ")}.` : ""}
          </p>
        )}
      </section>
      <section data-section="batteries">
        <h2>Batteries</h2>
        <p>
          {batteries.length === 0
            ? "Nothing here wants a battery."
            : `Charged, and a spare each, for ${batteries.join("; ")}.`}
        </p>
      </section>
      <section data-section="home">
        <h2>Stays at home</h2>
        {alike.map((one) => (
          <p key={one}>{`${one}.`}</p>
        ))}
        <details>
          <summary>{`${home.length} pieces you own are not needed, ${(grams / 1000).toFixed(1)} kg`}</summary>
          <p>{home.join(", ")}</p>
        </details>
      </section>
    </>
  );
}
