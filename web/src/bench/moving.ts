import type { Threshold } from "../api/generated";

/** Moves numbers of the program to a value, rounded to `step`: one drag is one `gesture`, and one step back. */
export type OnMove = (places: Threshold[], value: number, step: number, gesture: string) => void;

export const TELLS = "Drag, or use the arrow keys: Alt for fine steps, Shift for large ones, Escape puts it back. The number in the program follows.";
export const SLIDER =
  "num absolute flex touch-none items-center rounded-full border border-leaf bg-sheet text-[11px] leading-none text-leaf select-none hover:bg-leaf-wash";
