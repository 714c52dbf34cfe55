import { type KeyboardEvent, type PointerEvent, useRef, useState } from "react";

import type { Part, Threshold } from "../api/generated";
import { AS_IT_WAS, FINE, STEP } from "../model/handles";
import { show } from "../model/numbers";
import { RIGHT, SCALE } from "./layout";

interface Props {
  handle: Threshold;
  part: Part;
  top: number;
  /** How high the lane is: the label stays inside, away from the labels of the lanes above and below. */
  height: number;
  shift: number;
  perPixel: number;
  onMove: (handle: Threshold, value: number, step: number) => void;
}

const COARSE = 10;
const STEPS: Record<string, number> = { ArrowUp: 1, ArrowDown: -1, ArrowRight: 1, ArrowLeft: -1, PageUp: 10, PageDown: -10 };

const NEAR = 12.5;

/** Where a label stands for a line at this place. */
export function inside(place: number, height: number): number {
  return Math.min(Math.max(place, NEAR), Math.max(NEAR, height - NEAR));
}

/** A number of the program, drawn on the lane it is compared with. Drag it or use the arrow keys; Escape puts it back. */
export function Handle({ handle, part, top, height, shift, perPixel, onMove }: Props) {
  const start = useRef<{ y: number; top: number; value: number; perPixel: number } | null>(null);
  const before = useRef(handle.value); // what it was when it was taken up
  const [dragged, setDragged] = useState<{ value: number; top: number } | null>(null);
  const [pressed, setKeyed] = useState<{ from: number; value: number } | null>(null);
  // What keys have asked for counts until the server's answer moves the handle.
  const keyed = pressed?.from === handle.value ? pressed : { value: null };
  const value = dragged?.value ?? keyed.value ?? handle.value;
  const place = dragged?.top ?? top;

  const down = (event: PointerEvent<HTMLDivElement>) => {
    event.preventDefault();
    event.stopPropagation();
    event.currentTarget.setPointerCapture(event.pointerId);
    event.currentTarget.focus();
    start.current = { y: event.clientY, top, value: handle.value, perPixel };
    before.current = handle.value;
    setDragged({ value: handle.value, top });
  };
  const move = (event: PointerEvent<HTMLDivElement>) => {
    const from = start.current;
    if (!from) return;
    const next = from.value - (event.clientY - from.y) * from.perPixel;
    setDragged({ value: next, top: from.top + event.clientY - from.y });
    onMove(handle, next, event.altKey ? FINE : STEP);
  };
  const up = () => {
    if (!start.current) return;
    start.current = null;
    setDragged(null);
  };
  const key = (event: KeyboardEvent<HTMLDivElement>) => {
    if (event.key === "Escape") {
      event.stopPropagation();
      up();
      setKeyed(null);
      onMove(handle, before.current, AS_IT_WAS);
      return;
    }
    const step = STEPS[event.key];
    if (step === undefined) return;
    event.preventDefault();
    event.stopPropagation();
    const next = (keyed.value ?? handle.value) + step * (event.altKey ? FINE : event.shiftKey ? COARSE : STEP);
    setKeyed({ from: handle.value, value: next });
    onMove(handle, next, event.altKey ? FINE : STEP);
  };

  return (
    <>
      <div
        className="pointer-events-none absolute border-t border-dashed border-leaf"
        style={{ top: place, left: SCALE, right: RIGHT }}
      />
      <div
        role="slider"
        tabIndex={0}
        aria-label={`${part.name} compared with ${show(value, part.unit)}, line ${handle.line}`}
        aria-valuenow={Math.round(value * 100) / 100}
        aria-valuetext={show(value, part.unit)}
        aria-orientation="vertical"
        data-handle={part.name}
        title="Drag, or use the arrow keys: Alt for fine steps, Shift for large ones, Escape puts it back. The number in the program follows."
        className="num absolute z-10 flex h-[18px] cursor-ns-resize touch-none items-center rounded-full border border-leaf bg-sheet pr-1.5 pl-2 text-[11px] leading-none text-leaf select-none hover:bg-leaf-wash"
        style={{ top: inside(place, height) - 9, right: RIGHT / 2 + shift * 72 }}
        onFocus={() => {
          if (!start.current) before.current = handle.value;
        }}
        onPointerDown={down}
        onPointerMove={move}
        onPointerUp={up}
        onPointerCancel={up}
        onMouseDown={(event) => event.stopPropagation()}
        onKeyDown={key}
      >
        {show(value, part.unit, 1)}
      </div>
    </>
  );
}
