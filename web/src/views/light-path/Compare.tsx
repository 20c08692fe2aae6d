import "./Compare.css";

import type { Details, End, MatchReport, Route } from "../../api/client";
import type { Chosen } from "../../app/practice";
import { frameFor } from "../../drawing/scale";
import { sceneOf, wideOf } from "../../drawing/scene";
import { Section } from "../../drawing/section/Section";
import { gradeTitle, GradeMark } from "../../drawing/GradeMark";
import { aperture, chance, distance, money, sharpFrom, sharpTo, signedLength } from "../../parts/format";
import { FUNCTION_NAMES, STATE_WORDS } from "./functions";
import { chainName } from "./chain";
import { Printed } from "../../parts/Printed";
import { word } from "../../parts/words";

interface Props {
  report: MatchReport;
  pair: { route: Route };
  other: Route;
  practice: Chosen;
}

interface Row {
  what: string;
  one: string;
  other: string;
}

/** Two routes beside one another: only what differs; on paper with the drawing. */
export default function Compare(props: Props) {
  const { report, pair, other } = props;
  return (
    <section className="compare" aria-label="Compared">
      <CompareTable {...props} />
      <Printed name="compare" usual>
        {() => (
          <>
            <h1>{`${pieceName(report, report.lens)} on ${pieceName(report, report.body)}`}</h1>
            <Halves report={report} one={pair.route} other={other} />
            <CompareTable {...props} />
          </>
        )}
      </Printed>
    </section>
  );
}

const pieceName = (report: MatchReport, id: string) => report.pieces[id]?.name ?? id;

const PAPER = {
  width: 700,
  height: 300,
  upright: false,
  behind: 180,
  ahead: 60,
  slack: 20,
  margin: 51,
  offset: 5,
  halved: true,
};

/** Both routes cut open, one above the axis and one below, as the screen shows them. */
function Halves({ report, one, other }: { report: MatchReport; one: Route; other: Route }) {
  const scenes = [sceneOf(report, one), sceneOf(report, other)];
  const frames = scenes.map((scene) => frameFor(scene, PAPER));
  const frame = frames.reduce((least, each) => (each.scale < least.scale ? each : least));
  return (
    <svg viewBox={`0 0 ${PAPER.width} ${PAPER.height}`} className="sheet-svg">
      {scenes.map((scene, index) => (
        <Section key={index} scene={scene} frame={frame} lightFrom={0} half={index === 0 ? "upper" : "lower"} />
      ))}
    </svg>
  );
}

function CompareTable({ report, pair, other, practice }: Props) {
  const one = pair.route;
  const rows = [...differences(report, one, other, practice), ...functions(one.details, other.details)].filter(
    (row) => row.one !== row.other,
  );
  return (
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
  );
}

function differences(report: MatchReport, one: Route, other: Route, practice: Chosen): Row[] {
  const length = (mm: number | null) => (mm === null ? "unknown" : distance(mm, practice.distances));
  const facts: [string, (route: Route, wide: End) => string][] = [
    ["what it is for", (route) => route.purpose],
    ["grade", (route) => gradeTitle(route.grade)],
    [word("flange_error"), (route) => signedLength(route.register_error_mm)],
    [word("infinity_from"), (_, wide) => sharpFrom(wide)],
    [
      "probability, wide open",
      ({ register_tolerance_mm: { bounded } }, { infinity }) =>
        infinity.probability === null ? "unknown" : chance(infinity.probability, bounded),
    ],
    [word("nearest_focus"), (_, { focus }) => length(focus.near_mm)],
    [word("farthest_focus"), (_, { focus }) => sharpTo(focus, practice.distances)],
    ["becomes", (route) => route.becomes],
    ["focal length", (_, wide) => `${Number(wide.focal_length_mm.toFixed(1))} mm`],
    [word("effective_aperture"), (_, wide) => aperture(wide.working_f_number)],
    [
      word("image_circle"),
      ({ coverage: { image_circle_mm: circle } }) => (circle === null ? "unknown" : `${circle.toFixed(1)} mm`),
    ],
    ["sensor in use", (route) => route.coverage.mode],
    [
      word("mount_play"),
      ({ play: { displacement_mm: play } }) => (play === null ? "unknown" : `${play.toFixed(2)} mm`),
    ],
    ["pieces", (route) => String(route.adapters.length)],
    ["price", (route) => priced(route, report.currency)],
  ];
  const rows = facts.map(([what, of]) => ({
    what,
    one: of(one, wideOf(one)),
    other: of(other, wideOf(other)),
  }));
  const said = (route: Route, against: Route) =>
    route.findings
      .filter(({ text, severity }) => severity !== "info" && !against.findings.some((each) => each.text === text))
      .map(({ text }) => text)
      .join(" ");
  rows.push({ what: "only here", one: said(one, other), other: said(other, one) });
  return rows;
}

const priced = (route: Route, currency: string) =>
  route.owned ? "nothing" : route.price === null ? "unknown" : money(route.price, currency);

/** What is left of each function on either side, once both are told. */
function functions(one: Details | null, other: Details | null): Row[] {
  if (!one || !other) return [];
  return one.functions.map((entry) => {
    const there = other.functions.find((each) => each.function === entry.function);
    return {
      what: (FUNCTION_NAMES[entry.function] ?? entry.function).toLowerCase(),
      one: STATE_WORDS[entry.state],
      other: there ? STATE_WORDS[there.state] : "lost",
    };
  });
}
