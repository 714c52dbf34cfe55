import { useCallback } from "react";

import { useAxis } from "./store";

/** Steps the cursor to the next or the last of these moments, in s. */
export function useSteps(moments: number[]) {
  return useCallback(
    (direction: 1 | -1) => {
      const { cursor, move, play } = useAxis.getState();
      play(false);
      const next = direction > 0 ? moments.find((at) => at > cursor + 1e-6) : moments.findLast((at) => at < cursor - 1e-6);
      if (next !== undefined) move(next);
    },
    [moments],
  );
}
