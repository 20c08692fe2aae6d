import Button from "antd/es/button";

import type { FrameReport } from "../../api/client";

/** A file that the browser keeps, made here. */
function keep(name: string, type: string, text: string) {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(new Blob([text], { type }));
  link.download = name;
  link.click();
  URL.revokeObjectURL(link.href);
}

const cell = (value: string | number | boolean | null) => {
  const text = value === null ? "" : String(value);
  return /[",\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text;
};

function csvOf(report: FrameReport): string {
  const table = (rows: readonly object[]) => {
    const [first] = rows;
    if (!first) return "";
    const lines = rows.map((row) =>
      Object.values(row as Record<string, string | number | boolean | null>)
        .map(cell)
        .join(","),
    );
    return [Object.keys(first).join(","), ...lines].join("\r\n");
  };
  return (
    [table(report.modes), table(report.depth), table(report.blur)].filter(Boolean).join("\r\n\r\n") + "\r\n"
  );
}

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
    <div className="frame-toggles">
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
      <Button onClick={() => keep(`${name}.csv`, "text/csv", csvOf(report))}>Tables as CSV</Button>
    </div>
  );
}
