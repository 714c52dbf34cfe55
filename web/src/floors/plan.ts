import type { Floor } from "../api/generated";
import type { Places } from "../model/checkForms";
import type { Point } from "./geometry";

/** One thing of a floor, in cm, deg, %, lx and g. Which keys it has depends on its group. */
export interface Thing {
  name?: string;
  note?: string;
  at?: Point;
  radius?: number;
  corners?: Point[];
  line?: Point[];
  width?: number;
  from?: Point;
  to?: Point;
  movable?: boolean;
  mass?: number;
  friction?: number;
  travel_slip?: number;
  turn_slip?: number;
  rolling?: number;
  tone?: number;
  hue?: number;
  slope?: number;
  uphill?: number;
  height?: number;
  light?: number;
  heading?: number;
}

/** The groups in the order in which they lie on each other, the lowest first. */
export const GROUPS = ["surfaces", "ramps", "tones", "paints", "corridors", "walls", "obstacles", "lamps", "marks"] as const;
export type Group = (typeof GROUPS)[number];

/** A floor with plain numbers, as it is drawn and edited. */
export interface Plan extends Record<Group, Thing[]> {
  geduld: "floor/1";
  name: string;
  note?: string;
  size: Point;
  edge?: "wall" | "open";
  ambient?: number;
  tone?: number;
  surface?: Thing;
  start: { at: Point; heading?: number; note?: string };
}

/** The unit in which each number is drawn and edited. */
export const UNIT_OF: Record<string, string> = {
  ...Object.fromEntries(["size", "at", "from", "to", "corners", "line", "radius", "width", "height"].map((key) => [key, "cm"])),
  ...Object.fromEntries(["heading", "slope", "uphill", "hue"].map((key) => [key, "deg"])),
  ...Object.fromEntries(["tone", "travel_slip", "turn_slip", "rolling", "friction"].map((key) => [key, "%"])),
  ambient: "lx",
  light: "lx",
  mass: "g",
};

const FACTORS: Record<string, Record<string, number>> = {
  cm: { cm: 1, mm: 0.1, m: 100, inch: 2.54 },
  deg: { deg: 1, rev: 360 },
  "%": { "%": 1 },
  lx: { lx: 1 },
  g: { g: 1, kg: 1000 },
};

function toNumbers(value: unknown, key: string): unknown {
  if (Array.isArray(value)) return value.map((item) => toNumbers(item, key));
  if (value !== null && typeof value === "object") {
    return Object.fromEntries(Object.entries(value).map(([name, item]) => [name, toNumbers(item, name)]));
  }
  const unit = UNIT_OF[key];
  const match = unit && typeof value === "string" ? /^\s*(-?[0-9.]+)\s*(\S+)\s*$/.exec(value) : null;
  const factor = match && FACTORS[unit ?? ""]?.[match[2] ?? ""];
  return match && factor ? round(Number(match[1]) * factor) : value;
}

function toTexts(value: unknown, key: string): unknown {
  if (Array.isArray(value)) return value.map((item) => toTexts(item, key));
  if (value !== null && typeof value === "object") {
    return Object.fromEntries(Object.entries(value).map(([name, item]) => [name, toTexts(item, name)]));
  }
  return typeof value === "number" && UNIT_OF[key] ? `${round(value)} ${UNIT_OF[key]}` : value;
}

/** To a thousandth: no one measures a floor finer. */
export function round(value: number): number {
  return Math.round(value * 1000) / 1000;
}

/** Whether a place has no floor to drive on: a worktop. */
export function isWorktop(source: Record<string, unknown>): boolean {
  return !("size" in source);
}

/** A floor's JSON as plain numbers. */
export function planOf(source: Record<string, unknown>): Plan {
  const found = toNumbers(source, "") as Partial<Plan>;
  const groups = Object.fromEntries(GROUPS.map((group) => [group, found[group] ?? []])) as Record<Group, Thing[]>;
  const size: Point = found.size ?? [0, 0];
  const start = found.start ?? { at: [0, 0] };
  return { ...found, ...groups, size, start } as Plan;
}

/** A plan as floor JSON: every number with its unit, groups without things left out. */
export function sourceOf(plan: Plan): Record<string, unknown> {
  const source = toTexts(plan, "") as Record<string, unknown>;
  return Object.fromEntries(Object.entries(source).filter(([, value]) => !(Array.isArray(value) && value.length === 0)));
}

/** What these floors have names for, each once. */
export function placesOf(floors: Floor[]): Places {
  const plans = floors.map((floor) => planOf(floor.source));
  const names = (...groups: Group[]) => [
    ...new Set(plans.flatMap((plan) => groups.flatMap((group) => plan[group].flatMap((thing) => (thing.name ? [thing.name] : []))))),
  ];
  return { marks: names("marks"), corridors: names("corridors"), things: names("walls", "obstacles") };
}
