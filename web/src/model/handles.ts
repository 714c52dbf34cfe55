import type { Setting, Threshold } from "../api/generated";

/** A number as it is written into the program: short, never in exponent form, as fine as `step`. */
export function asWritten(value: number, step: number): string {
  return short(Math.round(value / step) * step, step);
}

function short(number: number, step: number): string {
  const places = Math.max(0, Math.min(4, Math.ceil(-Math.log10(step) - 1e-9)));
  const text = number.toFixed(places);
  const written = places ? text.replace(/\.?0+$/, "") : text;
  return written === "-0" ? "0" : written;
}

/** What a handle's number is rounded to, in the unit it is shown in: as it is moved, moved finely, and by large steps. */
export interface Steps {
  step: number;
  fine: number;
  coarse: number;
}
export const OF_VALUES: Steps = { step: 1, fine: 0.1, coarse: 10 };
export const OF_TIMES: Steps = { step: 0.1, fine: 0.01, coarse: 1 };
export const OF_HELD: Steps = { step: 0.01, fine: 0.001, coarse: 0.1 };
/** What is put back is written as it was. */
export const AS_IT_WAS = 0.0001;

/** The text that replaces a handle's number when it is moved to `value`, rounded to `step` (both in the unit it is shown in). */
export function numberText(handle: Threshold, value: number, step: number): string {
  const shown = Math.round(value / step) * step;
  const number = short(shown * handle.per_part_unit + handle.zero, Math.abs(handle.per_part_unit) * step);
  return handle.unit ? `${number} ${handle.unit}` : number;
}

/** How long the number with its sign and unit is that a text starts with; 0 when it starts with none. */
export function numberLength(text: string, unit: string): number {
  const number = /^(-\s*)?[0-9]+(\.[0-9]+)?(e[+-]?[0-9]+)?/.exec(text)?.[0] ?? "";
  const rest = text.slice(number.length);
  const spaces = rest.length - rest.trimStart().length;
  return number && unit && rest.trimStart().startsWith(unit) ? number.length + spaces + unit.length : number.length;
}

/** A number on a reading's lane, with every place in the text that moves with it. */
export interface Moved extends Threshold {
  places: Threshold[];
}

function placeOf({ line, column }: Threshold): string {
  return `${line}:${column}`;
}

/**
 * The numbers that readings are compared with, each place in the text once: a value may be compared in several places.
 * Two bands of one `by` that meet at a number have it as their edge, and move it together.
 */
export function moved(thresholds: Threshold[], settings: Setting[]): Moved[] {
  const found = new Map<string, Moved>();
  const add = (handle: Threshold, key: string) => {
    const known = found.get(`${handle.part}:${key}`);
    if (!known) found.set(`${handle.part}:${key}`, { ...handle, places: [handle] });
    else if (!known.places.some((place) => placeOf(place) === placeOf(handle))) known.places.push(handle);
  };
  for (const handle of thresholds) add(handle, placeOf(handle));
  for (const setting of settings) {
    if (setting.what === "near") add(setting, placeOf(setting));
    if (setting.what === "edge") add(setting, `edge of ${setting.step}: ${setting.value}`);
  }
  return [...found.values()];
}

/** What a fix will do, in a few words. */
export function fixWords(fix: string): string {
  if (!fix) return "delete it";
  const lines = fix.trim().split("\n").map((line) => line.trim());
  return `write ${lines.join(" / ") || "spaces"}`;
}
