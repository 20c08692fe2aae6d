import Button from "antd/es/button";

import type { FrameReport } from "../../api/client";
import { keep, tablesOf } from "../../parts/csv";

/** The drawing with its colours written into it, since a file has no style sheet. */
function svgOf(): string | null {
  const drawing = document.querySelector<SVGSVGElement>(".circle-view svg");
  if (!drawing) return null;
  const copy = drawing.cloneNode(true) as SVGSVGElement;
  const parts = [...drawing.querySelectorAll<SVGElement>("*")];
  copy.setAttribute("xmlns", "http://www.w3.org/2000/svg");
  copy.querySelectorAll<SVGElement>("*").forEach((part, index) => {
    const from = parts[index];
    if (!from) return;
    const style = getComputedStyle(from);
    for (const name of ["fill", "stroke", "stroke-width", "stroke-dasharray", "font-size", "font-family"])
      part.setAttribute(name, style.getPropertyValue(name));
  });
  return copy.outerHTML;
}

/** Picture, drawing and tables as files. */
export function Outputs({ report, picture }: { report: FrameReport; picture: string }) {
  const name = `${report.lens}-${report.body}-${report.scene}`;
  return (
    <div className="toggles">
      <Button href={picture} download={`${name}.png`}>
        Frame as PNG
      </Button>
      <Button
        onClick={() => {
          const drawing = svgOf();
          if (drawing) keep(`${name}.svg`, "image/svg+xml", drawing);
        }}
      >
        Drawing as SVG
      </Button>
      <Button onClick={() => keep(`${name}.csv`, "text/csv", tablesOf(report.modes, report.depth, report.blur))}>
        Tables as CSV
      </Button>
    </div>
  );
}
