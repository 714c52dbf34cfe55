import { useCallback, useEffect, useRef, useState } from "react";

import type { World } from "../api/world";

/** What is undone and done again on the bench: the text and the world together. */
export interface Moment {
  text: string;
  world: World;
}

const ONE_GESTURE = 800;
const MOST_STEPS = 300;
const MOST_TYPED = 40; // characters of one step back, however fast they are typed

function same(a: Moment, b: Moment): boolean {
  return a.text === b.text && (a.world === b.world || JSON.stringify(a.world) === JSON.stringify(b.world));
}

/**
 * One way back through all that happens on the bench: typing, drags, hands, things that are moved on the floor, another
 * world. It sees what has become of text and world, however it came about; `begin` says that what comes now is one
 * gesture, such as a drag, and one step back.
 */
export function useTrail(now: Moment, restore: (moment: Moment) => void) {
  const past = useRef<Moment[]>([]);
  const future = useRef<Moment[]>([]);
  const seen = useRef(now);
  const gesture = useRef<{ name: string; at: number; size: number }>({ name: "", at: 0, size: 0 });
  const named = useRef("");
  const restoring = useRef(false);
  const [can, setCan] = useState({ undo: false, redo: false });
  const count = useCallback(() => {
    const next = { undo: past.current.length > 0, redo: future.current.length > 0 };
    setCan((before) => (before.undo === next.undo && before.redo === next.redo ? before : next));
  }, []);

  useEffect(() => {
    const before = seen.current;
    if (same(before, now)) return;
    seen.current = now;
    const name = named.current;
    named.current = "";
    if (restoring.current) {
      restoring.current = false;
      gesture.current = { name: "", at: 0, size: 0 };
    } else {
      const at = performance.now();
      const size = Math.abs(now.text.length - before.text.length) || 1;
      const last = gesture.current;
      const goesOn = name ? name === last.name : !last.name && at - last.at < ONE_GESTURE && last.size + size <= MOST_TYPED && size < MOST_TYPED && before.world === now.world;
      gesture.current = { name, at, size: goesOn ? last.size + size : size };
      if (!goesOn) past.current = [...past.current.slice(1 - MOST_STEPS), before];
      else if (past.current.length && same(past.current.at(-1)!, now)) past.current = past.current.slice(0, -1); // it was put back
      future.current = [];
    }
    count();
  }, [now, now.text, now.world, count]);

  const step = useCallback(
    (from: typeof past, to: typeof past) => {
      const next = from.current.at(-1);
      if (!next) return;
      from.current = from.current.slice(0, -1);
      to.current = [...to.current, seen.current];
      restoring.current = true;
      restore(next);
      count();
    },
    [restore, count],
  );
  const undo = useCallback(() => step(past, future), [step]);
  const redo = useCallback(() => step(future, past), [step]);
  const begin = useCallback((name: string) => {
    named.current = name;
  }, []);
  return { undo: can.undo ? undo : undefined, redo: can.redo ? redo : undefined, begin };
}
