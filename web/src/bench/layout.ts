/** Widths that all lanes share, in pixels: the label gutter, and the scale at the plot's left. */
export const GUTTER = 132;
export const SCALE = 46;
export const RIGHT = 14;

/** A time's place across the plot, as a share of its width. */
export function share(at: number, from: number, to: number): number {
  return (at - from) / (to - from || 1);
}

const TARGET = 24; // pixels that a pointer needs for itself

/** Keeps what has room for a pointer: what would stand on another one of them waits until one looks closer. */
export function apart<Item>(place: (item: Item) => [x: number, y: number, width?: number]): (item: Item) => boolean {
  const kept: [number, number, number][] = [];
  return (item) => {
    const [x, y, width = TARGET] = place(item);
    if (kept.some(([left, top, wide]) => Math.abs(left - x) < (wide + width) / 2 && Math.abs(top - y) < TARGET)) return false;
    kept.push([x, y, width]);
    return true;
  };
}
