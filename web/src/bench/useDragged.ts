import { type KeyboardEvent, type MouseEvent, type PointerEvent, useCallback, useEffect, useRef, useState } from "react";

import { AS_IT_WAS, type Steps } from "../model/handles";

const KEYS: Record<string, number> = { ArrowUp: 1, ArrowDown: -1, ArrowRight: 1, ArrowLeft: -1 };
const PAGES: Record<string, number> = { PageUp: 1, PageDown: -1 };

export interface Dragging {
  value: number;
  /** Along which axis a pointer drags it, and how much of the value a pixel is: up, or to the right. */
  axis: "x" | "y";
  perPixel: number;
  steps: Steps;
  least?: number;
  /** Moves it to a value, rounded to `step`; `gesture` is the same while it is one drag. */
  onMove: (value: number, step: number, gesture: string) => void;
}

let gestures = 0;
/** A pointer tells where it is more often than a frame is drawn: looked at between frames after so many ms. */
const BETWEEN = 8;

/** A number that is dragged, or moved with the arrow keys: Alt for fine steps, Shift for large ones; Escape puts it back. */
export function useDragged({ value, axis, perPixel, steps, least = -Infinity, onMove }: Dragging) {
  const start = useRef<{ at: number; value: number; perPixel: number; seen: number; by: number } | null>(null);
  const before = useRef(value); // what it was when it was taken up
  const gesture = useRef("");
  const [dragged, setDragged] = useState<{ value: number; by: number } | null>(null);
  const [pressed, setPressed] = useState<{ from: number; value: number } | null>(null);
  // What keys have asked for counts until the server's answer moves the handle.
  const keyed = pressed?.from === value ? pressed.value : null;

  const take = () => {
    before.current = value;
    gesture.current = `handle ${++gestures}`;
  };
  const up = () => {
    start.current = null;
    setDragged(null);
  };
  const move = (event: Pick<globalThis.PointerEvent, "clientX" | "clientY" | "altKey" | "timeStamp">) => {
    const from = start.current;
    if (!from) return;
    const by = (axis === "x" ? event.clientX : event.clientY) - from.at;
    from.seen = event.timeStamp;
    if (by === from.by) return;
    from.by = by;
    const next = Math.max(least, from.value + (axis === "x" ? by : -by) * from.perPixel);
    setDragged({ value: next, by });
    onMove(next, event.altKey ? steps.fine : steps.step, gesture.current);
  };
  const latest = useRef(move);
  useEffect(() => {
    latest.current = move;
  });
  // What the browser tells of a pointer waits for the next frame; this does not, where the browser has it.
  const moveNow = useCallback((event: Event) => {
    const told = event as globalThis.PointerEvent;
    if (start.current && told.timeStamp - start.current.seen >= BETWEEN) latest.current(told);
  }, []);
  return {
    value: dragged?.value ?? keyed ?? value,
    /** How far the pointer has dragged it, in pixels; null while it does not. */
    by: dragged?.by ?? null,
    on: {
      onFocus: () => {
        if (!start.current) take();
      },
      onPointerDown: (event: PointerEvent<HTMLElement>) => {
        if (event.button !== 0) return;
        event.preventDefault();
        event.stopPropagation();
        event.currentTarget.setPointerCapture(event.pointerId);
        event.currentTarget.focus();
        take();
        event.currentTarget.addEventListener("pointerrawupdate", moveNow);
        start.current = { at: axis === "x" ? event.clientX : event.clientY, value, perPixel, seen: event.timeStamp, by: 0 };
        setDragged({ value, by: 0 });
      },
      onPointerMove: (event: PointerEvent<HTMLElement>) => {
        if (start.current) event.preventDefault(); // nobody else need look at it
        move(event);
      },
      onPointerUp: up,
      onPointerCancel: up,
      onMouseDown: (event: MouseEvent) => event.stopPropagation(),
      onKeyDown: (event: KeyboardEvent<HTMLElement>) => {
        if (event.key === "Escape") {
          event.stopPropagation();
          up();
          setPressed(null);
          onMove(before.current, AS_IT_WAS, gesture.current);
          return;
        }
        const [one, page] = [KEYS[event.key], PAGES[event.key]];
        if (one === undefined && page === undefined) return;
        event.preventDefault();
        event.stopPropagation();
        const step = page !== undefined || event.shiftKey ? steps.coarse : event.altKey ? steps.fine : steps.step;
        const next = Math.max(least, (keyed ?? value) + (one ?? page ?? 0) * step);
        setPressed({ from: value, value: next });
        onMove(next, event.altKey ? steps.fine : steps.step, `keys of ${gesture.current}`);
      },
    },
  };
}
