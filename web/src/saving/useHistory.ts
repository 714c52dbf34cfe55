import { useCallback, useRef, useState } from "react";

interface History<Value> {
  past: Value[];
  value: Value;
  future: Value[];
}

const ONE_GESTURE = 800;
const MOST_STEPS = 200;

/** A value with its history. Changes of one gesture, such as a drag, are one step back. */
export function useHistory<Value>(first: Value, onChange: (value: Value) => void) {
  const [history, setHistory] = useState<History<Value>>({ past: [], value: first, future: [] });
  const last = useRef({ at: 0, gesture: "" });

  const change = useCallback(
    (value: Value, gesture: string) => {
      const now = performance.now();
      const goesOn = gesture === last.current.gesture && now - last.current.at < ONE_GESTURE;
      last.current = { at: now, gesture };
      setHistory(({ past, value: before }) => ({ past: goesOn ? past : [...past.slice(1 - MOST_STEPS), before], value, future: [] }));
      onChange(value);
    },
    [onChange],
  );
  const step = (back: boolean) => {
    const { past, value, future } = history;
    const next = back ? past.at(-1) : future[0];
    if (next === undefined) return;
    last.current = { at: 0, gesture: "" };
    setHistory(back ? { past: past.slice(0, -1), value: next, future: [value, ...future] } : { past: [...past, value], value: next, future: future.slice(1) });
    onChange(next);
  };
  /** Another value, which is kept elsewhere already: nothing is told, and one can step back to what was here. */
  const replace = (value: Value) => {
    last.current = { at: 0, gesture: "" };
    setHistory(({ past, value: before }) => ({ past: [...past, before], value, future: [] }));
  };
  return {
    value: history.value,
    change,
    replace,
    undo: history.past.length ? () => step(true) : undefined,
    redo: history.future.length ? () => step(false) : undefined,
  };
}
