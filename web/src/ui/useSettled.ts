import { useEffect, useRef, useState } from "react";

const LONGEST = 80;

/** A value once it has stayed the same for a while; while it changes all the time, now and then all the same. */
export function useSettled<Value>(value: Value, milliseconds: number): Value {
  const [settled, setSettled] = useState(value);
  const since = useRef(0);
  useEffect(() => {
    const now = performance.now();
    since.current ||= now;
    const wait = Math.max(0, Math.min(milliseconds, since.current + Math.max(LONGEST, milliseconds) - now));
    const timer = setTimeout(() => {
      since.current = 0;
      setSettled(value);
    }, wait);
    return () => clearTimeout(timer);
  }, [value, milliseconds]);
  return settled;
}
