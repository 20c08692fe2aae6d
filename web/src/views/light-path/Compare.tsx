import type { MatchReport, Route } from "../../api/client";
import type { Chosen } from "../../app/practice";
import { GRADE_WORDS, GradeMark } from "../../drawing/GradeMark";
import { aperture, distance, fNumber, money, percent, signedMm } from "../../parts/format";
import { FUNCTION_NAMES, STATE_WORDS } from "./Facts";
import { chainName } from "./RouteList";

interface Props {
  report: MatchReport;
  one: Route;
  other: Route;
  practice: Chosen;
}

interface Row {
  what: string;
  one: string;
  other: string;
}

/** Two routes beside one another: only what differs. */
export function Compare({ report, one, other, practice }: Props) {
  const rows = differences(report, one, other, practice);
  return (
    <section className="compare" aria-label="Compared">
      <table>
        <thead>
          <tr>
            <th scope="col">what differs</th>
            {[one, other].map((route, index) => (
              <th key={index} scope="col">
                <GradeMark grade={route.grade} size={20} /> {chainName(report, route)}
                <span className="half">{index === 0 ? "upper half" : "lower half"}</span>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <tr key={row.what} data-differs={row.what}>
              <th scope="row">{row.what}</th>
              <td>{row.one}</td>
              <td>{row.other}</td>
            </tr>
          ))}
          {rows.length === 0 && (
            <tr>
              <td colSpan={3}>Nothing that is computed here.</td>
            </tr>
          )}
        </tbody>
      </table>
    </section>
  );
}

function differences(report: MatchReport, one: Route, other: Route, practice: Chosen): Row[] {
  const far = (route: Route) =>
    route.focus.state === "none" ? "nothing" : route.focus.far_mm === null ? "infinity" : distance(route.focus.far_mm, practice.distances);
  const facts: [string, (route: Route) => string][] = [
    ["grade", (route) => GRADE_WORDS[route.grade]],
    ["stands off by", (route) => `${signedMm(route.register_error_mm)} mm`],
    ["infinity sharp from", (route) => (route.infinity.from_f_number === null ? "never" : fNumber(route.infinity.from_f_number))],
    ["probability, wide open", (route) => (route.infinity.probability === null ? "unknown" : percent(route.infinity.probability))],
    ["exact focus from", (route) => (route.focus.near_mm === null ? "unknown" : distance(route.focus.near_mm, practice.distances))],
    ["exact focus to", far],
    ["focal length", (route) => `${Number(route.focal_length_mm.toFixed(1))} mm`],
    ["exposes as", (route) => aperture(route.working_f_number)],
    ["image circle", (route) => (route.coverage.image_circle_mm === null ? "unknown" : `${route.coverage.image_circle_mm.toFixed(1)} mm`)],
    ["sensor in use", (route) => route.coverage.mode],
    ["play of all joints", (route) => `${route.play.displacement_mm.toFixed(2)} mm`],
    ["pieces", (route) => String(route.adapters.length)],
    ["to pay", (route) => (route.owned ? "nothing" : route.price === null ? "unknown" : money(route.price, report.currency))],
  ];
  const rows = facts.map(([what, of]) => ({ what, one: of(one), other: of(other) }));
  for (const entry of one.functions) {
    const there = other.functions.find((each) => each.function === entry.function);
    rows.push({
      what: (FUNCTION_NAMES[entry.function] ?? entry.function).toLowerCase(),
      one: STATE_WORDS[entry.state],
      other: there ? STATE_WORDS[there.state] : "lost",
    });
  }
  const said = (route: Route, against: Route) =>
    route.findings.filter(({ text, severity }) => severity !== "info" && !against.findings.some((each) => each.text === text)).map(({ text }) => text).join(" ");
  rows.push({ what: "only here", one: said(one, other), other: said(other, one) });
  return rows.filter((row) => row.one !== row.other);
}
