import { type PointerEvent, useRef } from "react";

import type { Lane } from "../api/generated";
import { useAxis } from "../bench/store";
import { GUTTER, RIGHT, SCALE } from "../bench/layout";
import { Strip } from "../ui/Strip";

const HEIGHT = 44;

/** The whole trace, and the part of it that is seen: drag that along, or drag beside it to see another part. */
export function Overview({ lane, width, notes }: { lane: Lane; width: number; notes: number[] }) {
  const box = useRef<HTMLDivElement>(null);
  const { from, to, end, look } = useAxis();
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
    <div className="flex border-b border-rule bg-sheet py-1" style={{ width }}>
      <div className="flex shrink-0 flex-col justify-center pl-3 text-[13px] leading-tight text-soft" style={{ width: GUTTER + SCALE }}>
        <span>whole trace</span>
        <span className="truncate">{lane.part}</span>
      </div>
      <div ref={box} className="relative cursor-crosshair touch-none rounded border border-rule" style={{ width: room }} onPointerDown={press} data-overview="" title="Drag to choose the part that is seen">
        <Strip lane={lane} end={end} height={HEIGHT} />
        <div
          className="pointer-events-none absolute inset-y-0 border-x-2 border-leaf bg-leaf/15"
          style={{ left: `${(from / end) * 100}%`, width: `max(4px, ${((to - from) / end) * 100}%)` }}
          data-window-seen=""
        />
        {notes.map((at, index) => (
          <span key={index} className="pointer-events-none absolute top-0 h-2.5 w-0.5 bg-ochre" style={{ left: `${(at / end) * 100}%` }} />
        ))}
      </div>
    </div>
  );
}
