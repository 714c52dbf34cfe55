import type { Part, Threshold } from "../api/generated";
import { show } from "./numbers";

/** A text with another number in the place of a threshold; `value` is in the part's unit. */
export function withValue(text: string, place: Threshold, value: number): string {
  const lines = text.split("\n");
  const line = lines[place.line - 1] ?? "";
  lines[place.line - 1] = line.slice(0, place.column - 1) + show(value * place.per_part_unit + place.zero, place.unit, 4) + line.slice(place.end_column - 1);
  return lines.join("\n");
}

/** A text with a named value above its steps, with the slack that its noise needs as a note. */
export function withLet(text: string, part: Part, value: number, slack: number): string {
  const lines = text.split("\n");
  const begin = lines.findIndex((line) => /^begin\b/.test(line));
  const base = `${part.name.replace(/\W/g, "_")}_edge`;
  let name = base;
  for (let again = 2; new RegExp(`\\b${name}\\b`).test(text); again++) name = `${base}_${again}`;
  const made = [`let ${name} = ${show(value, part.unit, 4)}  # on and off ${show(slack, part.unit, 4)} apart`, ""];
  lines.splice(begin < 0 ? lines.length : begin, 0, ...made);
  return lines.join("\n");
}
