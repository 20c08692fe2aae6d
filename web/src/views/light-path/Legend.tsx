import "./Legend.css";

import type { Grade } from "../../api/client";
import { gradeTitle, GradeMark } from "../../drawing/GradeMark";

const GRADES: Grade[] = ["native", "full", "manual", "partial", "close_up", "modify", "none", "danger"];

/** What the marks mean, where they are first met. */
export function Legend() {
  return (
    <details className="marks">
      <summary>What the marks mean</summary>
      <ul>
        {GRADES.map((grade) => (
          <li key={grade}>
            <GradeMark grade={grade} size={22} /> {gradeTitle(grade)}
          </li>
        ))}
        <li>
          <Swatch d="M2 11h26" className="legend-wire" dot /> electrical contacts, as far as they reach
        </li>
        <li>
          <Swatch d="M2 18L34 4" className="legend-ray" /> edge of the image circle
        </li>
        <li>
          <Swatch d="M8 6h20v10H8z" className="legend-block" /> what stands in the body, mirror or frame
        </li>
        <li>
          <Swatch d="M8 4h20v14H8z" className="legend-metal" /> solid parts, in section
        </li>
        <li>
          <Swatch d="M8 4h20v14H8z" className="legend-bought" /> to be bought
        </li>
        <li>
          <Swatch d="M18 2v18" className="legend-sensor" /> the sensor
        </li>
      </ul>
    </details>
  );
}

function Swatch({ d, className, dot = false }: { d: string; className: string; dot?: boolean }) {
  return (
    <svg viewBox="0 0 36 22" width="36" height="22" aria-hidden="true" className="swatch">
      <path d={d} className={className} />
      {dot && <circle cx="30" cy="11" r="3.2" className={className} />}
    </svg>
  );
}
