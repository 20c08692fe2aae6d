import "../../parts/Figure.css";

import type { Route } from "../../api/client";
import type { Chosen } from "../../app/practice";
import { fails, openedForInfinity, toleranceAssumed, wideOf } from "../../drawing/scene";
import { Figure } from "../../parts/Figure";
import { chance, distance, mm, sharpFrom, sharpTo, signedLength } from "../../parts/format";
import { word } from "../../parts/words";

interface Props {
  route: Route;
  practice: Chosen;
}

/** The numbers of the strip, each with its working. */
export function StripFigures({ route, practice }: Props) {
  const { register_tolerance_mm: tolerance } = route;
  const assumed = toleranceAssumed(route);
  return (
    <div className="figures" aria-label="Where the lens stands">
      <Figure
        of="register_error_mm"
        label={openedForInfinity(route) > 0 ? `${word("flange_error")}, helicoid closed` : word("flange_error")}
        value={signedLength(route.register_error_mm)}
      />
      <Figure
        of="register_tolerance_mm.worst_case"
        label={assumed ? "worst case, in part assumed" : "worst case"}
        value={`±${mm(tolerance.worst_case)} mm`}
      />
      <Figure
        of="register_tolerance_mm.standard_uncertainty"
        label={assumed ? "uncertainty, in part assumed" : "uncertainty"}
        value={`${mm(tolerance.standard_uncertainty, 3)} mm`}
      />
      {!fails(route) && <Reaches route={route} practice={practice} />}
    </div>
  );
}

/** What it brings into focus; of a rig that does not work nothing is told. */
function Reaches({ route, practice }: Props) {
  const { infinity, focus } = wideOf(route);
  const { bounded } = route.register_tolerance_mm;
  const known = (value: number | null) => (value === null ? "unknown" : distance(value, practice.distances));
  return (
    <>
      <Figure
        of="infinity.from_f_number"
        label={practice.trust === "cautious" ? `${word("infinity_from")}, cautious` : word("infinity_from")}
        value={sharpFrom(wideOf(route))}
      />
      <Figure
        of="infinity.probability"
        label="probability, wide open"
        value={infinity.probability === null ? "unknown" : chance(infinity.probability, bounded)}
      />
      <Figure of="focus.near_mm" label={word("nearest_focus")} value={known(focus.near_mm)} />
      <Figure
        of="focus.far_mm"
        label={word("farthest_focus")}
        value={`${sharpTo(focus, practice.distances)}${infinity.reached && focus.far_mm !== null ? ", ∞ sharp" : ""}`}
      />
      <Figure
        of="focus.max_magnification"
        label={word("greatest_magnification")}
        value={focus.max_magnification === null ? "unknown" : `${mm(focus.max_magnification)} ×`}
      />
      {focus.near_from_front_mm !== null && (
        <Figure
          of="focus.near_from_front_mm"
          label={focus.far_from_front_mm === null ? `${word("working_distance")}, at least` : word("working_distance")}
          value={
            focus.far_from_front_mm === null
              ? known(focus.near_from_front_mm)
              : `${known(focus.near_from_front_mm)} – ${known(focus.far_from_front_mm)}`
          }
        />
      )}
    </>
  );
}
