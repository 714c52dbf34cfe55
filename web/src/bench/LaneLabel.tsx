import { type PointerEvent, type Ref, useRef } from "react";

import type { Part } from "../api/generated";
import { type LaneActions, LaneMenu } from "./LaneMenu";
import { GUTTER } from "./layout";

interface Props {
  part: Part;
  value: Ref<HTMLSpanElement>;
  /** The converter's own number, where the rig says which it has. */
  raw: Ref<HTMLSpanElement>;
  /** How the first reading stands to what it will be compared with. */
  first?: { words: string; holds: boolean };
  height: number;
  actions?: LaneActions;
}

/** A lane's name and its value at the cursor. The name is dragged to put the lane elsewhere, the lower edge to make it taller. */
export function LaneLabel({ part, value, raw, first, height, actions }: Props) {
  const grip = useRef<number | null>(null);
  const drag = (event: PointerEvent<HTMLElement>) => {
    if (!actions || event.button !== 0) return;
    event.preventDefault();
    event.stopPropagation();
    event.currentTarget.setPointerCapture(event.pointerId);
    grip.current = event.clientY;
  };
  const over = (event: PointerEvent<HTMLElement>) => {
    if (grip.current === null) return;
    const lane = event.currentTarget.closest("[data-lane]")?.getBoundingClientRect();
    if (!lane) return;
    if (event.clientY < lane.top - 6) actions?.onMove(part.name, -1);
    if (event.clientY > lane.bottom + 6) actions?.onMove(part.name, 1);
  };
  const stretch = (event: PointerEvent<HTMLElement>) => {
    if (grip.current === null) return;
    const by = Math.round((event.clientY - grip.current) / 8) * 8;
    if (!by) return;
    grip.current += by;
    actions?.onHeight(part.name, by);
  };
  const letGo = () => {
    grip.current = null;
  };
  return (
    <div className="relative flex shrink-0 items-center overflow-hidden pr-1 pl-3" style={{ width: GUTTER }}>
      <div className="min-w-0 flex-1">
        <span
          className={`block truncate leading-tight font-bold ${actions ? "cursor-grab touch-none" : ""}`}
          onPointerDown={drag}
          onPointerMove={over}
          onPointerUp={letGo}
          onPointerCancel={letGo}
          title={part.name}
        >
          {part.name}
        </span>
        <span ref={value} className="num block truncate text-[13px] leading-tight text-soft" data-value={part.name} />
        {part.raw && height >= 48 && <span ref={raw} className="num block truncate text-[12px] leading-tight text-soft" data-raw={part.name} />}
        {first && height >= 60 && (
          <span className={`block truncate text-[12px] leading-tight ${first.holds ? "font-bold text-ochre" : "text-soft"}`} title={first.words} data-first={part.name}>
            {first.words}
          </span>
        )}
      </div>
      {actions && <LaneMenu part={part} actions={actions} />}
      {actions && (
        <span
          className="absolute inset-x-0 bottom-0 h-[5px] cursor-row-resize touch-none"
          onPointerDown={drag}
          onPointerMove={stretch}
          onPointerUp={letGo}
          onPointerCancel={letGo}
          title="Drag to make the lane taller or lower"
        />
      )}
    </div>
  );
}
