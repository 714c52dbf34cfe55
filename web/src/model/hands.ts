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

export const NO_WORLD: World = { trace: null, follow: "time", floor: null, start: "", doings: [], seed: null, faults: [], limit: null, lasts: null, partner: null, delay: 0.02, lost: 0 };

/** A case as a world to run in. */
export function worldOf(item: Case | undefined): World {
  if (!item) return NO_WORLD;
  const { trace, follow, floor, start, doings, seed, faults, limit_us, lasts_us, partner, delay_us, lost } = item;
  const seconds = (ticks: number | null) => (ticks === null ? null : ticks / 1e6);
  return { trace, follow, floor, start, doings, seed, faults, limit: seconds(limit_us), lasts: seconds(lasts_us), partner, delay: delay_us / 1e6, lost };
}

/** A world as the values of a case. */
export function caseOf({ limit, lasts, delay, ...rest }: World): Omit<Case, "id" | "exercise" | "name" | "duration_us" | "broken"> {
  const ticks = (seconds: number | null) => (seconds === null ? null : Math.round(seconds * 1e6));
  return { ...rest, limit_us: ticks(limit), lasts_us: ticks(lasts), delay_us: Math.round(delay * 1e6) };
}
