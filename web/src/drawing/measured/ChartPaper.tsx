import "./measured.css";

import type { ChartSheet } from "../../api/measuredQueries";

interface Props {
  sheet: ChartSheet;
  page: ChartSheet["pages"][number];
  /** Width on the screen; on paper it is as large as it says. */
  small?: boolean;
}

/** A sheet of a chart at true size: dark squares turned by 5°, and a bar of 100 mm to check the print by. */
export function ChartPaper({ sheet, page, small = false }: Props) {
  const [barX, barY] = page.bar_mm;
  const half = sheet.bar_mm / 2;
  return (
    <svg
      className="measured-paper"
      width={small ? 150 : `${sheet.width_mm}mm`}
      height={small ? (150 * sheet.height_mm) / sheet.width_mm : `${sheet.height_mm - 0.5}mm`}
      viewBox={`0 0 ${sheet.width_mm} ${sheet.height_mm}`}
      role="img"
      aria-label={`A sheet of the chart${page.label ? `, ${page.label}` : ""}`}
    >
      {page.squares.map(({ x_mm: x, y_mm: y, side_mm: side, turned_deg: turned }) => (
        <rect
          key={`${x} ${y}`}
          className="ink"
          x={x - side / 2}
          y={y - side / 2}
          width={side}
          height={side}
          transform={`rotate(${turned} ${x} ${y})`}
        />
      ))}
      {page.marks.map(([x, y]) => (
        <path key={y} className="mark" d={`M${x - 6} ${y}h12M${x} ${y - 3}v6`} />
      ))}
      <path
        className="mark"
        d={`M${barX - half} ${barY}h${2 * half}M${barX - half} ${barY - 2}v4M${barX + half} ${barY - 2}v4`}
      />
      <text x={barX} y={barY + 5} fontSize={3.4} textAnchor="middle">
        {`${sheet.bar_mm} mm: if it is not, print at 100 %${page.label ? ` · ${page.label}` : ""}`}
      </text>
    </svg>
  );
}
