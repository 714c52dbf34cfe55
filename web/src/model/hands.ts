import type { Case, Doing } from "../api/generated";
import type { World } from "../api/world";

/** What hands do, with one more doing: from its instant on, the same hand has done nothing else yet. */
export function withDoing(doings: Doing[], ...added: Doing[]): Doing[] {
  const names = new Map(added.map((doing) => [doing.name, doing.at]));
  const kept = doings.filter((doing) => doing.at < (names.get(doing.name) ?? Infinity) - 1e-9);
  return [...kept, ...added].sort((a, b) => a.at - b.at);
}

/** What a hand holds a channel at: undefined when it does not touch it. */
export function heldAt(doings: Doing[], name: string, at: number): number | string | undefined {
  const last = doings.findLast((doing) => doing.name === name && doing.at <= at + 1e-9);
  return last?.value ?? undefined;
}

/** The channels that hands touch, in the order of their first touch. */
export function touched(doings: Doing[]): string[] {
  return [...new Set(doings.map((doing) => doing.name))];
}

export const NO_WORLD: World = { trace: null, follow: "time", floor: null, start: "", doings: [], seed: null, faults: [], limit: null };

/** A case as a world to run in. */
export function worldOf(item: Case | undefined): World {
  if (!item) return NO_WORLD;
  const { trace, follow, floor, start, doings, seed, faults, limit_us } = item;
  return { trace, follow, floor, start, doings, seed, faults, limit: limit_us === null ? null : limit_us / 1e6 };
}

/** A world as the values of a case. */
export function caseOf({ limit, ...rest }: World): Omit<Case, "id" | "exercise" | "name" | "duration_us" | "broken"> {
  return { ...rest, limit_us: limit === null ? null : Math.round(limit * 1e6) };
}
