import { useCallback, useRef, useState } from "react";

import type { Plan } from "./plan";

interface History {
  past: Plan[];
  plan: Plan;
  future: Plan[];
}

const ONE_GESTURE = 800;
const MOST_STEPS = 200;

/** A plan with its history. Changes of one gesture, such as a drag, are one step back. */
export function useEditing(first: Plan, onChange: (plan: Plan) => void) {
  const [history, setHistory] = useState<History>({ past: [], plan: first, future: [] });
  const last = useRef({ at: 0, gesture: "" });

  const change = useCallback(
    (plan: Plan, gesture: string) => {
      const now = performance.now();
      const goesOn = gesture === last.current.gesture && now - last.current.at < ONE_GESTURE;
      last.current = { at: now, gesture };
      setHistory(({ past, plan: before }) => ({ past: goesOn ? past : [...past.slice(1 - MOST_STEPS), before], plan, future: [] }));
      onChange(plan);
    },
    [onChange],
  );
  const step = (back: boolean) => {
    const { past, plan, future } = history;
    const next = back ? past.at(-1) : future[0];
    if (!next) return;
    last.current = { at: 0, gesture: "" };
    setHistory(back ? { past: past.slice(0, -1), plan: next, future: [plan, ...future] } : { past: [...past, plan], plan: next, future: future.slice(1) });
    onChange(next);
  };
  /** Another plan, which is kept elsewhere already: nothing is told, and one can step back to what was here. */
  const replace = (plan: Plan) => {
    last.current = { at: 0, gesture: "" };
    setHistory(({ past, plan: before }) => ({ past: [...past, before], plan, future: [] }));
  };
  return {
    plan: history.plan,
    change,
    replace,
    undo: history.past.length ? () => step(true) : undefined,
    redo: history.future.length ? () => step(false) : undefined,
  };
}
