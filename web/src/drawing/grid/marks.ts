import type { Grade } from "../../api/client";
import { GRADE_SHAPES } from "../GradeMark";

/** One mark of 28 × 28, moved and scaled: all marks of a grade are drawn as one path. */
export function placedMark(grade: Grade, x: number, y: number, scale: number): string {
  const shape = GRADE_SHAPES[grade];
  let found = "";
  for (const [, command = "", numbers = ""] of shape.matchAll(/([MLlv])([^MLlv]*)/g)) {
    const [a = 0, b = 0] = numbers.trim().split(/[ ,]/).map(Number);
    const at = (value: number, origin: number) => round(origin + value * scale);
    if (command === "M" || command === "L") found += `${command}${at(a, x)} ${at(b, y)}`;
    else if (command === "l") found += `l${round(a * scale)} ${round(b * scale)}`;
    else found += `v${round(a * scale)}`;
  }
  return found;
}

/** The bridge that a mark of full function has between its lines. */
export function placedBridge(x: number, y: number, scale: number): string {
  const [wide, high] = [round(10 * scale), round(9 * scale)];
  return `M${round(x + 9 * scale)} ${round(y + 9.5 * scale)}h${wide}v${high}h${-wide}z`;
}

const round = (value: number) => Math.round(value * 100) / 100;
