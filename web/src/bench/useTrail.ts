import { useCallback, useLayoutEffect, useRef, useState } from "react";

import type { World } from "../api/world";

/** What is undone and done again on the bench: the text, and the world as far as it is this place's. */
export interface Moment {
  text: string;
  world: World;
  /** Which world can be restored: another case of an exercise is another place, and its hands are its own. */
  place: string;
}

const ONE_GESTURE = 800;
const MOST_STEPS = 300;
const MOST_TYPED = 40; // characters of one step back, however fast they are typed

function sameWorld(a: Moment, b: Moment): boolean {
  return a.place !== b.place || a.world === b.world || JSON.stringify(a.world) === JSON.stringify(b.world);
}

/** Whether going from one to the other would change nothing that is seen. */
function same(a: Moment, b: Moment): boolean {
  return a.text === b.text && sameWorld(a, b);
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

  useLayoutEffect(() => {
    const before = seen.current;
    const name = named.current;
    const restored = restoring.current;
    seen.current = now;
    named.current = "";
    restoring.current = false;
    if (same(before, now)) return;
    if (restored) {
      gesture.current = { name: "", at: 0, size: 0 };
    } else {
      const at = performance.now();
      const size = Math.abs(now.text.length - before.text.length) || 1;
      const last = gesture.current;
      const typedOn = !last.name && at - last.at < ONE_GESTURE && last.size + size <= MOST_TYPED && sameWorld(before, now);
      const goesOn = name ? name === last.name : typedOn;
      gesture.current = { name, at, size: goesOn ? last.size + size : size };
      if (!goesOn) past.current = [...past.current.slice(1 - MOST_STEPS), before];
      const previous = past.current.at(-1);
      if (goesOn && previous && same(previous, now)) past.current = past.current.slice(0, -1); // it was put back
      future.current = [];
    }
    count();
  }, [now, count]);

  const step = useCallback(
    (from: typeof past, to: typeof past) => {
      const index = from.current.findLastIndex((moment) => !same(moment, seen.current));
      const next = from.current[index];
      from.current = from.current.slice(0, Math.max(0, index));
      if (next) {
        to.current = [...to.current, seen.current];
        restoring.current = true;
        restore(next);
      }
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
