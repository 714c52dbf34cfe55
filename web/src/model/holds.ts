import type { Threshold } from "../api/generated";

/** How a reading is compared with a threshold in a text: the sign before the number, or the word. */
export function comparison(text: string, threshold: Threshold): "<" | ">" | null {
  const before = (text.split("\n")[threshold.line - 1] ?? "").slice(0, threshold.column - 1);
  const sign = /(<=|>=|<|>|\bunder|\bover)\s*$/.exec(before)?.[1];
  if (!sign) return null;
  return sign.startsWith("<") || sign === "under" ? "<" : ">";
}

/** Whether a comparison holds for a value, both in the part's unit; null where there is no reading, or it is no such comparison. */
export function holds(text: string, threshold: Threshold, value: number | null): boolean | null {
  const how = comparison(text, threshold);
  if (how === null || value === null) return null;
  return how === "<" ? value < threshold.value : value > threshold.value;
}
