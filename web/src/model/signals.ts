import type { Lane } from "../api/generated";

/** The index of the last time that is not after `at`; -1 before the first. */
export function indexAt(times: number[], at: number): number {
  let low = 0;
  let high = times.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((times[middle] ?? 0) <= at + 1e-9) low = middle + 1;
    else high = middle;
  }
  return low - 1;
}

/** The value that holds at a time; null where absent. */
export function valueAt(lane: Lane, at: number): number | null {
  const index = indexAt(lane.times, at);
  return index < 0 ? null : (lane.values[index] ?? null);
}

/** The times of several lanes together, and each lane's value at each; the last value is drawn out to `end`. */
export function together(lanes: Lane[], end: number): [number[], ...(number | null)[][]] {
  const times = [...new Set([...lanes.flatMap((lane) => lane.times), end])].sort((a, b) => a - b);
  return [times, ...lanes.map((lane) => times.map((time) => valueAt(lane, time)))];
}

/** The least and greatest value with a little room; `also` are values that must be inside. */
export function rangeOf(lanes: Lane[], also: number[]): [number, number] {
  let low = Infinity;
  let high = -Infinity;
  const look = (value: number | null) => {
    if (value === null) return;
    low = Math.min(low, value);
    high = Math.max(high, value);
  };
  for (const lane of lanes) lane.values.forEach(look);
  also.forEach(look);
  if (low > high) return [0, 1];
  const room = (high - low) * 0.1 || Math.max(1, Math.abs(high) * 0.1);
  return [low - room, high + room];
}

/** Whether a signal is ever anything but nothing. */
export function isLively(lane: Lane): boolean {
  return lane.values.some((value) => value !== null && value !== 0);
}

/** The instants at which something happens, in order, each once. */
export function instants(groups: number[][]): number[] {
  return [...new Set(groups.flat().map((time) => Math.round(time * 1e6)))].sort((a, b) => a - b).map((tick) => tick / 1e6);
}

/** A signal as a line that holds each value until the next; it stops where the reading is absent. */
export function pathOf(lane: Lane, from: number, to: number, x: (at: number) => number, place: (value: number) => number): string {
  let found = "";
  let pen = "M";
  lane.times.forEach((time, index) => {
    const value = lane.values[index];
    const next = lane.times[index + 1] ?? to;
    if (next < from || time > to) return;
    if (value === null || value === undefined) {
      pen = "M";
      return;
    }
    found += `${pen}${x(Math.max(time, from)).toFixed(1)} ${place(value).toFixed(1)}H${x(Math.min(next, to)).toFixed(1)}`;
    pen = "L";
  });
  return found;
}
