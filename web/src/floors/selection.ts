import { mapped, moved, nameOf, type Point, pointsOf, rotated } from "./geometry";
import { type Group, GROUPS, type Plan, round, type Thing } from "./plan";

/** What is chosen in the editor: one thing of a group, the start, or nothing (then the floor itself). */
export type Selection = { group: Group; index: number } | "start" | null;

export function isSame(a: Selection, b: Selection): boolean {
  if (a === null || b === null || a === "start" || b === "start") return a === b;
  return a.group === b.group && a.index === b.index;
}

/** All that can be chosen, in the order in which it lies on the floor. */
export function selectable(plan: Plan): Exclude<Selection, null>[] {
  return [...GROUPS.flatMap((group) => plan[group].map((_, index) => ({ group, index }))), "start"];
}

/** The chosen thing; the start is one too. */
export function thingOf(plan: Plan, selection: Selection): Thing | null {
  if (selection === null) return null;
  return selection === "start" ? plan.start : (plan[selection.group][selection.index] ?? null);
}

export function wordFor(plan: Plan, selection: Selection): string {
  if (selection === null) return plan.name;
  const thing = thingOf(plan, selection);
  return selection === "start" ? "start" : thing ? nameOf(selection.group, thing) : "";
}

/** A plan in which the chosen thing is another. */
export function withThing(plan: Plan, selection: Selection, thing: Thing): Plan {
  const tidy = mapped(thing, ([x, y]) => [round(x), round(y)]);
  if (selection === null) return plan;
  if (selection === "start") return { ...plan, start: { ...plan.start, ...tidy, at: tidy.at ?? plan.start.at } };
  return { ...plan, [selection.group]: plan[selection.group].map((item, index) => (index === selection.index ? tidy : item)) };
}

export function without(plan: Plan, selection: Selection): Plan {
  if (selection === null || selection === "start") return plan;
  return { ...plan, [selection.group]: plan[selection.group].filter((_, index) => index !== selection.index) };
}

/** A number brought to the nearest step; as it is when there is none. */
export function snapped(value: number, step: number): number {
  return step > 0 ? Math.round(value / step) * step : value;
}

/** A thing moved by a way, so that its first point comes to lie on the grid. */
export function movedOnGrid(thing: Thing, dx: number, dy: number, step: number): Thing {
  const [x, y] = pointsOf(thing)[0] ?? [0, 0];
  return moved(thing, snapped(x + dx, step) - x, snapped(y + dy, step) - y);
}

/** A thing with one of its points elsewhere; points are counted as `pointsOf` lists them. */
export function withPoint(thing: Thing, number: number, at: Point): Thing {
  let seen = -1;
  return mapped(thing, (point) => (++seen === number ? at : point));
}

/** A thing turned to the next multiple of the step: as a whole, or only where it points. */
export function turnedBy(thing: Thing, angle: number): Thing {
  const next = rotated(thing, angle);
  return thing.heading === undefined ? next : { ...next, heading: round(next.heading ?? 0) };
}
