import { useCallback, useLayoutEffect, useRef } from "react";

import type { Doing } from "../api/generated";
import { withDoing } from "../model/hands";

const ONE_GESTURE = 700;

/** What hands do: each change names its gesture first, so that a drag is one step back. */
export function useHands(doings: Doing[], onDoings: (doings: Doing[]) => void, begin: (gesture: string) => void) {
  const latest = useRef(doings);
  useLayoutEffect(() => {
    latest.current = doings;
  }, [doings]);
  const last = useRef({ at: 0, name: "", count: 0 });
  const change = useCallback(
    (next: Doing[], name: string) => {
      const now = performance.now();
      const goesOn = now - last.current.at <= ONE_GESTURE && name === last.current.name;
      last.current = { at: now, name, count: last.current.count + (goesOn ? 0 : 1) };
      latest.current = next;
      begin(`hand ${last.current.count}`);
      onDoings(next);
    },
    [onDoings, begin],
  );
  const act = useCallback(
    (...added: Doing[]) => change(withDoing(latest.current, ...added), added[0]?.name.split(".")[0] ?? ""),
    [change],
  );
  const clear = useCallback(() => change([], "clear"), [change]);
  return { act, clear };
}
