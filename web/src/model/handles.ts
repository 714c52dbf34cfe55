import type { Threshold } from "../api/generated";

/** A number as it is written into the program: short, never in exponent form. */
export function asWritten(value: number, step: number): string {
  const places = Math.max(0, Math.min(4, Math.ceil(-Math.log10(step) - 1e-9)));
  const text = (Math.round(value / step) * step).toFixed(places);
  return places ? text.replace(/\.?0+$/, "") : text;
}

/** The text that replaces a handle's number when it is moved to `value` (in the part's unit). */
export function numberText(handle: Threshold, value: number, fine: boolean): string {
  const inText = value * handle.per_part_unit;
  const step = handle.per_part_unit * (fine ? 0.1 : 1);
  const number = asWritten(inText, step);
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
