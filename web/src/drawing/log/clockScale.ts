/** Where moments fall on a time line, in pixels. */
export interface Scale {
  first: number;
  span: number;
  left: number;
  width: number;
}

export const MINUTE_US = 60_000_000;

/** A scale over these moments (microseconds), with a little air; null where there are none. */
export function scaleOver(moments: readonly number[], left: number, width: number): Scale | null {
  if (moments.length === 0) return null;
  const first = Math.min(...moments);
  const last = Math.max(...moments);
  const air = Math.max((last - first) * 0.02, MINUTE_US);
  return { first: first - air, span: last - first + 2 * air, left, width: width - left };
}

export const at = ({ first, span, left, width }: Scale, moment: number) => left + ((moment - first) / span) * width;

/** How much time so many pixels are, in seconds. */
export const secondsOf = ({ span, width }: Scale, pixels: number) => (pixels / width) * (span / 1e6);

const STEPS_MIN = [1, 2, 5, 10, 15, 30, 60, 120, 240, 720, 1440];

/** Moments on full minutes or hours, at least so many pixels apart. */
export function ticksOf(scale: Scale, least: number): number[] {
  const perMinute = scale.width / (scale.span / MINUTE_US);
  const step = (STEPS_MIN.find((minutes) => minutes * perMinute >= least) ?? 1440 * 7) * MINUTE_US;
  const first = Math.ceil(scale.first / step) * step;
  const count = Math.max(0, Math.floor((scale.first + scale.span - first) / step) + 1);
  return Array.from({ length: Math.min(count, 400) }, (_, place) => first + place * step);
}

/** Seconds as people say how a clock runs. */
export function spanSaid(seconds: number): string {
  const whole = Math.round(Math.abs(seconds));
  const parts: [number, string][] = [
    [Math.floor(whole / 86_400), "d"],
    [Math.floor(whole / 3600) % 24, "h"],
    [Math.floor(whole / 60) % 60, "min"],
    [whole % 60, "s"],
  ];
  return parts.flatMap(([value, unit]) => (value ? [`${value} ${unit}`] : [])).join(" ") || "0 s";
}
