import { useEffect, useRef } from "react";

import type { Lane, Part } from "../api/generated";
import { show } from "../model/numbers";
import { indexAt } from "../model/signals";
import { GUTTER, RIGHT, SCALE, share } from "./layout";
import { useAxis, useSpan } from "./store";

/** The messages a radio has received: each stays until the next one comes. */
export function TextLane({ part, lane, width }: { part: Part; lane: Lane; width: number }) {
  const label = useRef<HTMLSpanElement>(null);
  const { from, to, end } = useSpan();
  const texts = lane.texts ?? [];
  useEffect(() => {
    const write = (at: number) => {
      const text = (lane.texts ?? [])[indexAt(lane.times, at)];
      if (label.current) label.current.textContent = text ? `"${text}"` : "no message";
    };
    write(useAxis.getState().cursor);
    return useAxis.subscribe((axis) => write(axis.cursor));
  }, [lane]);
  return (
    <div className="flex h-[40px] border-b border-rule" style={{ width }} data-lane={part.name}>
      <div className="flex shrink-0 flex-col justify-center overflow-hidden pr-2 pl-3" style={{ width: GUTTER }}>
        <span className="truncate leading-tight font-bold">{part.name}</span>
        <span ref={label} className="truncate text-[13px] leading-tight text-soft" data-value={part.name} />
      </div>
      <div className="relative flex-1 overflow-hidden" style={{ marginLeft: SCALE, marginRight: RIGHT }}>
        {texts.map((text, index) => {
          const start = lane.times[index] ?? 0;
          const stop = lane.times[index + 1] ?? end;
          if (!text || stop < from || start > to) return null;
          const left = Math.max(0, share(start, from, to)) * 100;
          const right = Math.min(1, share(stop, from, to)) * 100;
          return (
            <span
              key={index}
              className="absolute top-[8px] h-[23px] overflow-hidden border-l-2 border-reading bg-sunk px-1.5 text-[13px] leading-[23px] whitespace-nowrap"
              style={{ left: `${left}%`, width: `max(2px, ${right - left}%)` }}
              title={`"${text}", from ${show(start)} s on`}
            >
              {text}
            </span>
          );
        })}
      </div>
    </div>
  );
}
