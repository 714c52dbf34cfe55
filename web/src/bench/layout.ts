/** Widths that all lanes share, in pixels: the label gutter, and the scale at the plot's left. */
export const GUTTER = 132;
export const SCALE = 46;
export const RIGHT = 14;

/** A time's place across the plot, as a share of its width. */
export function share(at: number, from: number, to: number): number {
  return (at - from) / (to - from || 1);
}
