/** A number for people: at most `places` decimals, no trailing zeros, with its unit. */
export function show(value: number, unit = "", places = 2): string {
  const fixed = value.toFixed(places);
  const text = fixed.includes(".") ? fixed.replace(/\.?0+$/, "") : fixed;
  return `${text === "-0" || text === "" ? "0" : text}${unit ? ` ${unit}` : ""}`;
}

/** An amount of points with its word. */
export function showPoints(amount: number): string {
  return `${show(amount)} ${amount === 1 ? "point" : "points"}`;
}

/** A time on the axis, with as many decimals as the step between ticks needs. */
export function showSeconds(seconds: number, step = 0.01): string {
  const places = Math.max(0, Math.min(6, Math.ceil(-Math.log10(step) - 1e-9)));
  return seconds.toFixed(places);
}

/** Round steps of 1, 2 or 5 so that at most `most` of them fit. */
export function niceStep(span: number, most: number): number {
  const rough = span / most;
  const power = 10 ** Math.floor(Math.log10(rough));
  const factor = [1, 2, 5, 10].find((candidate) => candidate * power >= rough) ?? 10;
  return factor * power;
}

/** The ticks of a step inside a stretch. */
export function ticksBetween(from: number, to: number, step: number): number[] {
  const first = Math.ceil(from / step - 1e-9);
  const last = Math.floor(to / step + 1e-9);
  return Array.from({ length: Math.max(0, last - first + 1) }, (_, index) => (first + index) * step);
}

/** A day that reads the same everywhere: 24 Nov 2026. */
export function showDay(moment: string): string {
  return new Date(moment).toLocaleDateString("en-GB", { day: "numeric", month: "short", year: "numeric" });
}

/** A number of things: "1 check", "3 checks". */
export function counted(number: number, word: string): string {
  return `${number} ${word}${number === 1 ? "" : "s"}`;
}
