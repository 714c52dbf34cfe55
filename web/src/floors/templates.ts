import type { Point } from "./geometry";
import type { Group, Plan, Thing } from "./plan";

function box([x, y]: Point, width: number, depth: number): Point[] {
  const [w, d] = [width / 2, depth / 2];
  return [[x - w, y - d], [x + w, y - d], [x + w, y + d], [x - w, y + d]];
}

/** What can be put on a floor, and how it starts out. */
export const TEMPLATES: { word: string; group: Group; make: (at: Point) => Thing }[] = [
  { word: "Wall", group: "walls", make: ([x, y]) => ({ from: [x - 40, y], to: [x + 40, y] }) },
  { word: "Bench or box", group: "obstacles", make: (at) => ({ corners: box(at, 60, 30) }) },
  { word: "Round obstacle", group: "obstacles", make: (at) => ({ at, radius: 15 }) },
  { word: "Movable crate", group: "obstacles", make: (at) => ({ name: "crate", corners: box(at, 16, 16), movable: true, mass: 500, friction: 40 }) },
  { word: "Surface", group: "surfaces", make: (at) => ({ name: "gravel", corners: box(at, 90, 60), travel_slip: 3, turn_slip: 17, rolling: 4 }) },
  { word: "Tone line", group: "tones", make: ([x, y]) => ({ tone: 8, width: 3, line: [[x - 60, y], [x, y + 15], [x + 60, y]] }) },
  { word: "Tone area", group: "tones", make: (at) => ({ tone: 20, corners: box(at, 30, 30) }) },
  { word: "Painted area", group: "paints", make: (at) => ({ hue: 120, corners: box(at, 30, 30) }) },
  { word: "Ramp", group: "ramps", make: (at) => ({ corners: box(at, 60, 40), slope: 6, uphill: 0 }) },
  { word: "Lamp", group: "lamps", make: (at) => ({ at, height: 60, light: 150 }) },
  { word: "Mark", group: "marks", make: (at) => ({ name: "A", at, heading: 0 }) },
  { word: "Corridor", group: "corridors", make: (at) => ({ name: "lane", corners: box(at, 120, 40) }) },
];

/** A name that nothing on the floor has yet: A, B, C, or crate, crate_2. */
export function freeName(plan: Plan, name: string): string {
  const taken = new Set([...plan.obstacles, ...plan.marks, ...plan.corridors].map((thing) => thing.name));
  if (!taken.has(name)) return name;
  const letters = name.length === 1 ? "ABCDEFGHIJKLMNOPQRSTUVWXYZ".split("") : [];
  const others = [...letters, ...Array.from({ length: 500 }, (_, index) => `${name}_${index + 2}`)];
  return others.find((other) => !taken.has(other)) ?? name;
}
