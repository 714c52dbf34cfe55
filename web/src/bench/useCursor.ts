import { useAxis } from "./store";

/** The time under the cursor, at each frame: for what is small enough to be drawn anew each time. */
export function useCursor(): number {
  return useAxis((axis) => axis.cursor);
}
