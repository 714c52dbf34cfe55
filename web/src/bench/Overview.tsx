import { type PointerEvent, useRef } from "react";

import type { Lane } from "../api/generated";
import { useAxis, useSpan } from "./store";
import { GUTTER, RIGHT, SCALE } from "./layout";
import { Strip } from "../ui/Strip";

/** An instant, or a stretch, that can be found again at a glance. */
export interface Marked {
  at: number;
  to?: number;
  tone: string;
}

interface Props {
  label: string;
  /** What is drawn of it, where anything is. */
  lane?: Lane;
  width: number;
  height: number;
  marks: Marked[];
}

/** All of a time axis, and the part of it that is seen: drag that along, or drag beside it to see another part. */
export function Overview({ label, lane, width, height, marks }: Props) {
  const box = useRef<HTMLDivElement>(null);
  const { from, to, end } = useSpan();
  const { look } = useAxis.getState();
  const room = Math.max(1, width - GUTTER - SCALE - RIGHT);
  const timeAt = (clientX: number) => ((clientX - (box.current?.getBoundingClientRect().left ?? 0)) / room) * end;
  const press = (event: PointerEvent<HTMLDivElement>) => {
    event.preventDefault();
    const start = timeAt(event.clientX);
    const inside = start >= from && start <= to && to - from < end * 0.999;
    const move = (next: globalThis.PointerEvent) => {
      const at = timeAt(next.clientX);
      if (inside) look(from + at - start, to + at - start);
      else if (Math.abs(at - start) > (end / room) * 3) look(Math.min(start, at), Math.max(start, at));
    };
    const stop = (last: globalThis.PointerEvent) => {
      removeEventListener("pointermove", move);
      removeEventListener("pointerup", stop);
      if (!inside && Math.abs(timeAt(last.clientX) - start) <= (end / room) * 3) look(start - (to - from) / 2, start + (to - from) / 2);
    };
    addEventListener("pointermove", move);
    addEventListener("pointerup", stop);
  };
  return (
    <div className={`flex border-b border-rule bg-sheet ${lane ? "py-1" : "py-0.5"}`} style={{ width }}>
      <div className="flex shrink-0 flex-col justify-center pl-3 text-[13px] leading-tight text-soft" style={{ width: GUTTER + SCALE }}>
        <span>{label}</span>
        {lane && <span className="truncate">{lane.part}</span>}
      </div>
      <div ref={box} className="relative cursor-crosshair touch-none rounded border border-rule" style={{ width: room, height }} onPointerDown={press} data-overview="" title="Drag to choose the part that is seen">
        {lane && <Strip lane={lane} end={end} height={height} />}
        <div
          className="pointer-events-none absolute inset-y-0 border-x-2 border-leaf bg-leaf/15"
          style={{ left: `${(from / end) * 100}%`, width: `max(4px, ${((to - from) / end) * 100}%)` }}
          data-window-seen=""
        />
        {marks.map(({ at, to = at, tone }, index) => (
          <span
            key={index}
            className="pointer-events-none absolute top-0 h-2.5"
            style={{ left: `${(at / end) * 100}%`, width: `max(2px, ${((to - at) / end) * 100}%)`, background: tone }}
          />
        ))}
      </div>
    </div>
  );
}
