import type { Build } from "../../../api/benchQueries";
import { gradeWord } from "../../../drawing/GradeMark";
import { mm, money } from "../../../parts/format";
import { Plain } from "../../../parts/Plain";

interface Props {
  build: Build;
  currency: string;
  chosen: boolean;
  onChoose: () => void;
}

/** One way of filling the gap, in a few lines: pieces, reach, price. */
export function BuildTold({ build, currency, chosen, onChoose }: Props) {
  const names = build.placed.filter((one) => !one.made).map((one) => one.name);
  const price =
    build.missing.length === 0 ? "all owned" : build.price === null ? "price not known" : money(build.price, currency);
  const rest = build.rest_mm > 0 ? `, ${mm(build.rest_mm)} mm of spacers` : "";
  const ahead = build.forward_mm > 0 ? `, held ${mm(build.forward_mm)} mm forward of its shoulder` : "";
  return (
    <Plain className="bench-build" aria-pressed={chosen} onClick={onChoose} data-build={build.pieces.join(" ")}>
      <strong>{[build.sleeve ? "sleeve" : "", ...names].filter(Boolean).join(" + ")}</strong>
      <span>{`${mm(build.closed_mm, 1)}–${mm(build.open_mm, 1)} mm${rest}${ahead}`}</span>
      <span>{reachOf(build)}</span>
      <span className={build.danger ? "warning" : ""} data-grade={build.grade}>
        {build.danger ? "may touch something in the camera" : gradeWord(build.grade)}
      </span>
      <span className="route-gives">{price}</span>
    </Plain>
  );
}

function reachOf(build: Build): string {
  if (build.near_m === null) return "does not focus: it is moved as a whole";
  const magnified = `magnification ${(build.magnification ?? 0).toFixed(2)}`;
  const met = build.near_met ? "" : "; not as near as wanted";
  return `sharp from ${build.near_m.toFixed(2)} m, ${magnified}${met}`;
}
