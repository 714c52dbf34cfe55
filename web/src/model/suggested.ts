import type { Lane, Levels, Part } from "../api/generated";
import { show } from "./numbers";
import { indexAt } from "./signals";

/** What a step can wait for, with numbers that the open trace suggests: of a reading the value between its two levels. */
export function conditionsOf(parts: Part[], lanes: Lane[], levels: Map<string, Levels>): string[] {
  return parts.flatMap((part) => {
    const lane = lanes.find((item) => item.part === part.name);
    if (part.says) {
      const heard = lane?.texts?.find((text) => text);
      return [`message is "${heard ?? "go"}"`];
    }
    if (part.contact) return [`${part.name} is pressed`, `${part.name} is released`];
    const found = levels.get(part.name);
    const seen = lane?.values.filter((value) => value !== null) ?? [];
    const middle = found?.threshold ?? (seen.length ? (Math.min(...seen) + Math.max(...seen)) / 2 : null);
    if (middle === null) return [];
    const first = lane ? (lane.values[Math.max(0, indexAt(lane.times, 0))] ?? seen[0]) : undefined;
    const falls = first !== undefined && first > middle;
    const number = show(middle, part.unit, Math.abs(middle) < 10 ? 1 : 0);
    return [`${part.name} ${falls ? "<" : ">"} ${number}`, `${part.name} ${falls ? ">" : "<"} ${number}`];
  });
}
