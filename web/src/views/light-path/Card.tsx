import "./Card.css";

import type { MatchReport, Route } from "../../api/client";
import { frameFor } from "../../drawing/scale";
import { fails, sceneOf, wideOf } from "../../drawing/scene";
import { Section } from "../../drawing/section/Section";
import { aperture, percent, sharpFrom, signedLength, today } from "../../parts/format";
import { gradeTitle, GradeMark } from "../../drawing/GradeMark";
import { chainName } from "./chain";
import { Printed } from "../../parts/Printed";
import { word } from "../../parts/words";

const WIDTH = 520;
const HEIGHT = 236;

// Within the margins of an A5 page, in millimetres.
const SIDE = { width: 130, height: 191 };

interface Props {
  report: MatchReport;
  route: Route;
  /** Whether this is what the browser's own printing prints. */
  usual: boolean;
}

/** One A5 side to take along: drawing, settings, steps to tick, cautions. Made when it is printed. */
export function Card({ usual, ...rest }: Props) {
  return (
    <Printed name="card" usual={usual} fit={SIDE}>
      {() => <CardOf {...rest} />}
    </Printed>
  );
}

function CardOf({ report, route }: Omit<Props, "usual">) {
  const scene = sceneOf(report, route);
  const frame = frameFor(scene, {
    width: WIDTH,
    height: HEIGHT,
    upright: false,
    behind: 210,
    ahead: 40,
    slack: 20,
    margin: 31,
    offset: 9,
  });
  const name = (id: string) => report.pieces[id]?.name ?? id;
  const wide = wideOf(route);
  const off: [string, string] = [word("flange_error"), signedLength(route.register_error_mm)];
  const settings: [string, string][] = fails(route)
    ? [off]
    : [
        ["focal length to enter", wide.stabiliser ? `${wide.stabiliser.entry_mm} mm` : "none asked"],
        [
          word("effective_aperture"),
          wide.t_number === null ? aperture(wide.working_f_number) : `T/${wide.t_number.toFixed(1)}`,
        ],
        ["sensor in use", route.coverage.mode],
        [word("infinity_from"), sharpFrom(wide)],
        off,
      ];
  if (wide.stabiliser?.travel_step != null && !fails(route))
    settings.splice(1, 0, [
      word("stabiliser_travel"),
      wide.stabiliser.travel_step ? percent(wide.stabiliser.travel_step) : "off",
    ]);
  const cautions = route.findings.filter(({ severity }) => severity === "danger" || severity === "caution");
  // What stands above as a warning is not a thing to tick off.
  const steps = (route.details?.steps ?? []).filter(({ text }) => !cautions.some((each) => each.text === text));
  return (
    <>
      <header>
        <GradeMark grade={route.grade} size={30} />
        <div>
          <h1>{`${name(report.lens)} on ${name(report.body)}`}</h1>
          <p>{`${chainName(report, route)}. ${gradeTitle(route.grade)}: ${route.sentence}`}</p>
        </div>
      </header>
      <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} className="sheet-svg">
        <Section scene={scene} frame={frame} lightFrom={0} />
      </svg>
      <dl>
        {settings.map(([what, value]) => (
          <div key={what}>
            <dd>{value}</dd>
            <dt>{what}</dt>
          </div>
        ))}
      </dl>
      <ul className="card-cautions">
        {route.usable_says.map((says) => (
          <li key={says}>{says}</li>
        ))}
        {cautions.map(({ text }) => (
          <li key={text}>{text}</li>
        ))}
      </ul>
      <ol>
        {steps.map(({ text, caution }) => (
          <li key={text} className={caution ? "caution" : ""}>
            {text}
          </li>
        ))}
      </ol>
      <footer>
        Power off for every swap; force nothing. Conversions and electrical work: a qualified repairer. Local safety
        rules come first. {today()}
      </footer>
    </>
  );
}
