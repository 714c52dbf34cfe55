import { useCallback, useLayoutEffect, useRef, useState } from "react";

import type { Doing } from "../api/generated";
import { withDoing } from "../model/hands";

const ONE_GESTURE = 700;

/** What hands do, with a way back: a drag is one step back. */
export function useHands(doings: Doing[], onDoings: (doings: Doing[]) => void) {
  const [past, setPast] = useState<Doing[][]>([]);
  const latest = useRef(doings);
  useLayoutEffect(() => {
    latest.current = doings;
  }, [doings]);
  const last = useRef({ at: 0, name: "" });
  const change = useCallback(
    (next: Doing[], name: string) => {
      const now = performance.now();
      if (now - last.current.at > ONE_GESTURE || name !== last.current.name) {
        const before = latest.current;
        setPast((steps) => [...steps.slice(-49), before]);
      }
      last.current = { at: now, name };
      latest.current = next;
      onDoings(next);
    },
    [onDoings],
  );
  const act = useCallback(
    (...added: Doing[]) => change(withDoing(latest.current, ...added), added[0]?.name.split(".")[0] ?? ""),
    [change],
  );
  const clear = useCallback(() => change([], "clear"), [change]);
  const undo = () => {
    const before = past.at(-1);
    if (!before) return;
    setPast(past.slice(0, -1));
    last.current = { at: 0, name: "" };
    onDoings(before);
  };
  return { act, clear, undo: past.length ? undo : undefined };
}
