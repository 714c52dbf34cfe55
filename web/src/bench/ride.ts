import type { Ride } from "../api/generated";
import type { Point } from "../floors/geometry";
import { indexAt } from "../model/signals";

export interface Pose {
  at: Point;
  heading: number;
}

function between(values: (number | null)[], index: number, share: number): number | null {
  const from = values[index] ?? null;
  const to = values[index + 1] ?? from;
  return from === null || to === null ? from : from + (to - from) * share;
}

/** Where an instant lies among a ride's points: the point before it, and the share of the way to the next. */
function place(ride: Ride, at: number): [number, number] {
  const index = Math.max(0, indexAt(ride.times, at));
  const from = ride.times[index] ?? 0;
  const to = ride.times[index + 1] ?? from;
  return [index, to > from ? Math.min(1, Math.max(0, (at - from) / (to - from))) : 0];
}

/** Where the robot was at an instant. */
export function poseAt(ride: Ride, at: number): Pose {
  const [index, share] = place(ride, at);
  return {
    at: [between(ride.x, index, share) ?? 0, between(ride.y, index, share) ?? 0],
    heading: between(ride.heading, index, share) ?? 0,
  };
}

/** Where a thing was at an instant; null when it was nowhere. */
export function thingAt(ride: Ride, name: string, at: number): Point | null {
  const thing = ride.things[name];
  if (!thing) return null;
  const [index, share] = place(ride, at);
  const x = between(thing.x, index, share);
  const y = between(thing.y, index, share);
  return x === null || y === null ? null : [x, y];
}

/** The way travelled up to each point, in cm. */
export function waysOf(ride: Ride): number[] {
  let way = 0;
  return ride.times.map((_, index) => {
    if (index > 0) way += Math.hypot((ride.x[index] ?? 0) - (ride.x[index - 1] ?? 0), (ride.y[index] ?? 0) - (ride.y[index - 1] ?? 0));
    return way;
  });
}

/** The way travelled by an instant, in cm. */
export function wayAt(ride: Ride, ways: number[], at: number): number {
  const [index, share] = place(ride, at);
  return between(ways, index, share) ?? 0;
}
