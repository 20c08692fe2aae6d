import "../../parts/Figure.css";

import type { Route } from "../../api/client";
import type { Chosen } from "../../app/practice";
import { toleranceAssumed, wideOf } from "../../drawing/scene";
import { Figure } from "../../parts/Figure";
import { distance, mm, percent, sharpFrom, sharpTo, signedMm } from "../../parts/format";

interface Props {
  route: Route;
  practice: Chosen;
}

/** The numbers of the strip, each with its working. */
export function StripFigures({ route, practice }: Props) {
  const { register_tolerance_mm: tolerance } = route;
  const { infinity, focus } = wideOf(route);
  const assumed = toleranceAssumed(route);
  return (
    <div className="figures" aria-label="Where the lens stands">
      <Figure
        of="register_error_mm"
        label="from where it should stand"
        value={`${signedMm(route.register_error_mm)} mm`}
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
      <Figure
        of="infinity.from_f_number"
        label={practice.trust === "cautious" ? "infinity sharp from, cautious" : "infinity sharp from"}
        value={sharpFrom(infinity)}
      />
      <Figure
        of="infinity.probability"
        label="probability, wide open"
        value={infinity.probability === null ? "unknown" : percent(infinity.probability)}
      />
      <Figure
        of="focus.near_mm"
        label="exact focus from"
        value={focus.near_mm === null ? "unknown" : distance(focus.near_mm, practice.distances)}
      />
      <Figure of="focus.far_mm" label="exact focus to" value={sharpTo(focus, practice.distances)} />
      <Figure
        of="focus.max_magnification"
        label="largest on the sensor"
        value={focus.max_magnification === null ? "unknown" : `${mm(focus.max_magnification)} ×`}
      />
    </div>
  );
}
