import type { Threshold } from "../api/generated";

/** A number as it is written into the program: short, never in exponent form. */
export function asWritten(value: number, step: number): string {
  const places = Math.max(0, Math.min(4, Math.ceil(-Math.log10(step) - 1e-9)));
  const text = (Math.round(value / step) * step).toFixed(places);
  return places ? text.replace(/\.?0+$/, "") : text;
}

/** What a handle's number is rounded to, in the part's unit: as it is moved, moved finely, and put back to what it was. */
export const STEP = 1;
export const FINE = 0.1;
export const AS_IT_WAS = 0.0001;

/** The text that replaces a handle's number when it is moved to `value`, rounded to `step` (both in the part's unit). */
export function numberText(handle: Threshold, value: number, step: number): string {
  const number = asWritten(value * handle.per_part_unit, handle.per_part_unit * step);
  return handle.unit ? `${number} ${handle.unit}` : number;
}

/** How long the number with its unit is that a text starts with; 0 when it starts with none. */
export function numberLength(text: string, unit: string): number {
  const number = /^[0-9]+(\.[0-9]+)?/.exec(text)?.[0] ?? "";
  const rest = text.slice(number.length);
  const spaces = rest.length - rest.trimStart().length;
  return number && unit && rest.trimStart().startsWith(unit) ? number.length + spaces + unit.length : number.length;
}

/** Handles on the same number, once each: a value may be compared in several places. */
export function distinct(handles: Threshold[]): Threshold[] {
  const seen = new Set<string>();
  return handles.filter((handle) => {
    const key = `${handle.part}:${handle.line}:${handle.column}`;
    if (seen.has(key)) return false;
    seen.add(key);
    return true;
  });
}

/** What a fix will do, in a few words. */
export function fixWords(fix: string): string {
  if (!fix) return "delete it";
  const lines = fix.trim().split("\n").map((line) => line.trim());
  return `write ${lines.join(" / ") || "spaces"}`;
}
