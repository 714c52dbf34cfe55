import type { VerdictWord } from "../api/generated";
import { show } from "./numbers";

export const VERDICTS: VerdictWord[] = ["pass", "part", "fail", "not exercised", "not certain", "not read"];

/** A margin with its sign: + is to spare, − is missing; empty where there is none or it is nothing. */
export function marginSign(margin: number | null, unit: string): string {
  return !margin ? "" : `${margin < 0 ? "−" : "+"}${show(Math.abs(margin), unit)}`;
}

/** The sentence behind a verdict word, for those who ask. */
export function meaning(verdict: VerdictWord): string {
  switch (verdict) {
    case "pass":
      return "Passed each time it was tested.";
    case "part":
      return "Passed some of the times it was tested.";
    case "fail":
      return "Failed when it was tested.";
    case "not exercised":
      return "Its trigger never came, so nothing was tested.";
    case "not certain":
      return "The run does not show enough to decide.";
    case "not read":
      return "Geduld could not read the program, so nothing was tested.";
  }
}

/** A margin in words: how much there was to spare, or how much was missing. */
export function marginWords(margin: number | null, unit: string): string {
  if (!margin) return "";
  const size = show(Math.abs(margin), unit);
  return margin > 0 ? `${size} to spare` : `missed by ${size}`;
}
