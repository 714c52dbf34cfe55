import type { Group, Thing } from "./plan";

export type Point = [number, number];

export function degrees(radians: number): number {
  return (radians * 180) / Math.PI;
}

export function radians(angle: number): number {
  return (angle * Math.PI) / 180;
}

export function away(a: Point, b: Point): number {
  return Math.hypot(a[0] - b[0], a[1] - b[1]);
}

/** A point turned round another, counter-clockwise. */
export function turned([x, y]: Point, [cx, cy]: Point, angle: number): Point {
  const cos = Math.cos(radians(angle));
  const sin = Math.sin(radians(angle));
  return [cx + cos * (x - cx) - sin * (y - cy), cy + sin * (x - cx) + cos * (y - cy)];
}

/** A point of the robot, `ahead` and to its `left`, on the floor. */
export function ofRobot(ahead: number, left: number, [x, y]: Point, heading: number): Point {
  return turned([x + ahead, y + left], [x, y], heading);
}

/** All points that make a thing. */
export function pointsOf(thing: Thing): Point[] {
  return [...(thing.at ? [thing.at] : []), ...(thing.corners ?? []), ...(thing.line ?? []), ...(thing.from ? [thing.from] : []), ...(thing.to ? [thing.to] : [])];
}

/** The middle of a thing: of what it spans. */
export function middleOf(thing: Thing): Point {
  const points = pointsOf(thing);
  const xs = points.map(([x]) => x);
  const ys = points.map(([, y]) => y);
  return [(Math.min(...xs) + Math.max(...xs)) / 2, (Math.min(...ys) + Math.max(...ys)) / 2];
}

/** A thing with each of its points changed. */
export function mapped(thing: Thing, change: (point: Point) => Point): Thing {
  return {
    ...thing,
    ...(thing.at && { at: change(thing.at) }),
    ...(thing.corners && { corners: thing.corners.map(change) }),
    ...(thing.line && { line: thing.line.map(change) }),
    ...(thing.from && { from: change(thing.from) }),
    ...(thing.to && { to: change(thing.to) }),
  };
}

export function moved(thing: Thing, dx: number, dy: number): Thing {
  return mapped(thing, ([x, y]) => [x + dx, y + dy]);
}

/** A thing turned round its middle, with what points somewhere. */
export function rotated(thing: Thing, angle: number): Thing {
  const middle = middleOf(thing);
  const next = mapped(thing, (point) => turned(point, middle, angle));
  const wrap = (value: number) => ((((value + angle) % 360) + 540) % 360) - 180;
  return {
    ...next,
    ...(thing.heading !== undefined && { heading: wrap(thing.heading) }),
    ...(thing.uphill !== undefined && { uphill: wrap(thing.uphill) }),
  };
}

/** What a thing is called when it has no name of its own. */
export const ONE_OF: Record<Group, string> = {
  surfaces: "surface",
  ramps: "ramp",
  tones: "tone",
  paints: "paint",
  corridors: "corridor",
  walls: "wall",
  obstacles: "obstacle",
  lamps: "lamp",
  marks: "mark",
};

export function nameOf(group: Group, thing: Thing): string {
  return thing.name ? (group === "marks" ? `mark ${thing.name}` : thing.name) : ONE_OF[group];
}

/** A hue as paint: neither dark nor bright, and never without its number beside it. */
export function hueOf(hue: number): string {
  return `hsl(${hue} 55% 62%)`;
}
