import type { Point } from "./geometry";

/** Pixels kept free round a floor for its rulers. */
export const RULER = 26;
const EDGE = 14;

/** How a floor is laid into a box of pixels: x to the right, y up. */
export interface View {
  scale: number;
  left: number;
  bottom: number;
  size: Point;
}

/** The largest view of a floor that fits a box. */
export function fit(size: Point, width: number, height: number): View {
  const scale = Math.max(0.1, Math.min((width - RULER - EDGE) / size[0], (height - RULER - EDGE) / size[1]));
  return { scale, left: RULER, bottom: EDGE + size[1] * scale, size };
}

export function toScreen(view: View, [x, y]: Point): Point {
  return [view.left + x * view.scale, view.bottom - y * view.scale];
}

export function toFloor(view: View, x: number, y: number): Point {
  return [(x - view.left) / view.scale, (view.bottom - y) / view.scale];
}
