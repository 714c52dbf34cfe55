import { type MouseEvent, type ReactNode, type WheelEvent, useEffect, useRef } from "react";

import { show } from "../model/numbers";
import { GUTTER, RIGHT, SCALE, share } from "./layout";
import { useAxis } from "./store";

interface Props {
  width: number;
  /** Whether a stretch can be chosen, with Shift and drag. */
  selectable?: boolean;
  children: ReactNode;
}

/** The stack of lanes: one time axis, one cursor over all of them. Drag to move it, Ctrl and wheel to zoom. */
export function Lanes({ width, selectable = false, children }: Props) {
  const line = useRef<HTMLDivElement>(null);
  const knob = useRef<HTMLDivElement>(null);
  const box = useRef<HTMLDivElement>(null);
  const room = Math.max(1, width - GUTTER - SCALE - RIGHT);

  useEffect(() => {
    const place = () => {
      const { cursor, from, to } = useAxis.getState();
      const at = share(cursor, from, to);
      for (const element of [line.current, knob.current]) {
        if (!element) return;
        element.style.transform = `translateX(${GUTTER + SCALE + at * room}px)`;
        element.style.visibility = at < 0 || at > 1 ? "hidden" : "visible";
      }
      const element = knob.current;
      element?.setAttribute("aria-valuenow", cursor.toFixed(3));
      element?.setAttribute("aria-valuetext", `${show(cursor)} s`);
    };
    place();
    return useAxis.subscribe(place);
  }, [room]);

  const timeAt = (clientX: number) => {
    const left = box.current?.getBoundingClientRect().left ?? 0;
    const { from, to } = useAxis.getState();
    return from + ((clientX - left - GUTTER - SCALE) / room) * (to - from);
  };
  const press = (event: MouseEvent) => {
    if (event.button !== 0 || event.clientX < (box.current?.getBoundingClientRect().left ?? 0) + GUTTER + SCALE - 4) return;
    event.preventDefault();
    knob.current?.focus({ preventScroll: true });
    const { move, play, select } = useAxis.getState();
    const start = timeAt(event.clientX);
    const selects = selectable && event.shiftKey;
    play(false);
    move(start);
    const drag = (next: globalThis.MouseEvent) => {
      const { from, to } = useAxis.getState();
      const at = Math.min(Math.max(timeAt(next.clientX), from), to);
      move(at);
      if (selects) select([start, at]);
    };
    const stop = () => {
      removeEventListener("mousemove", drag);
      removeEventListener("mouseup", stop);
    };
    addEventListener("mousemove", drag);
    addEventListener("mouseup", stop);
  };
  const wheel = (event: WheelEvent) => {
    const { from, to, zoom, look } = useAxis.getState();
    if (event.ctrlKey) zoom(event.deltaY > 0 ? 1.25 : 0.8, timeAt(event.clientX));
    else if (event.deltaX || event.shiftKey) {
      const by = ((event.deltaX || event.deltaY) / room) * (to - from);
      look(from + by, to + by);
    }
  };

  useEffect(() => {
    const element = box.current;
    const keep = (event: globalThis.WheelEvent) => {
      if (event.ctrlKey) event.preventDefault();
    };
    element?.addEventListener("wheel", keep, { passive: false });
    return () => element?.removeEventListener("wheel", keep);
  }, []);

  return (
    <div ref={box} className="relative" onMouseDown={press} onWheel={wheel}>
      {children}
      {selectable && <Selected room={room} />}
      <div ref={line} className="pointer-events-none absolute inset-y-0 left-0 z-20 -ml-px w-0.5 bg-ink" data-line="" />
      <div
        ref={knob}
        role="slider"
        tabIndex={0}
        aria-label="Time cursor, in seconds"
        aria-valuemin={0}
        data-cursor=""
        className="absolute top-0 left-0 z-20 -ml-[12px] flex h-[24px] w-[24px] cursor-ew-resize items-end justify-center"
      >
        <span className="h-2.5 w-2.5 rotate-45 border border-sheet bg-ink" />
      </div>
    </div>
  );
}

/** The stretch that is chosen, over all lanes. */
function Selected({ room }: { room: number }) {
  const { selected, from, to } = useAxis();
  if (!selected) return null;
  const left = Math.max(0, share(selected[0], from, to)) * room;
  const right = Math.min(1, share(selected[1], from, to)) * room;
  if (right <= 0 || left >= room) return null;
  return (
    <div
      className="pointer-events-none absolute inset-y-0 z-10 border-x-2 border-leaf bg-leaf/12"
      style={{ left: GUTTER + SCALE + left, width: Math.max(2, right - left) }}
      data-selected=""
    />
  );
}
