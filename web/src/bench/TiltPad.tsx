import { type KeyboardEvent, type PointerEvent, useRef } from "react";

import type { Doing } from "../api/types";
import { show } from "../model/numbers";

const MOST = 45;
const STEPS: Record<string, [number, number]> = { ArrowUp: [1, 0], ArrowDown: [-1, 0], ArrowLeft: [0, -1], ArrowRight: [0, 1] };

interface Props {
  name: string;
  held: (name: string) => number | string | undefined;
  does: (name: string, value: Doing["value"]) => void;
}

/** A hand that tilts the rig: up is nose down (x), right is to the right (y); the ring is level. */
export function TiltPad({ name, held, does }: Props) {
  const pad = useRef<HTMLDivElement>(null);
  const number = (axis: string) => {
    const value = held(`${name}.${axis}`);
    return typeof value === "number" ? value : 0;
  };
  const [x, y] = [number("x"), number("y")];
  const set = (nextX: number, nextY: number) => {
    const inside = (value: number) => Math.round(Math.min(MOST, Math.max(-MOST, value)));
    does(`${name}.x`, inside(nextX));
    does(`${name}.y`, inside(nextY));
  };
  const take = (event: PointerEvent) => {
    const edge = pad.current?.getBoundingClientRect();
    if (!edge || !pad.current?.hasPointerCapture(event.pointerId)) return;
    const across = ((event.clientX - edge.left) / edge.width) * 2 - 1;
    const up = 1 - ((event.clientY - edge.top) / edge.height) * 2;
    set(up * MOST, across * MOST);
  };
  const press = (event: KeyboardEvent) => {
    const step = STEPS[event.key];
    if (!step) return;
    event.preventDefault();
    event.stopPropagation();
    const far = event.shiftKey ? 10 : 2;
    set(x + step[0] * far, y + step[1] * far);
  };
  return (
    <div className="flex items-center gap-3">
      <div
        ref={pad}
        className="relative size-[76px] shrink-0 touch-none rounded-full border border-rule bg-sheet"
        role="slider"
        tabIndex={0}
        aria-label={`${name}: arrow keys tilt it`}
        aria-valuenow={x}
        aria-valuemin={-MOST}
        aria-valuemax={MOST}
        aria-valuetext={`x ${x} deg, y ${y} deg`}
        data-handle="tilt"
        onKeyDown={press}
        onPointerDown={(event) => {
          pad.current?.setPointerCapture(event.pointerId);
          take(event);
        }}
        onPointerMove={take}
      >
        <span className="absolute top-1/2 left-1/2 size-4 -translate-1/2 rounded-full border border-dashed border-soft" />
        <span
          className="absolute size-3 -translate-1/2 rounded-full bg-leaf"
          style={{ left: `${50 + (y / MOST) * 46}%`, top: `${50 - (x / MOST) * 46}%` }}
        />
      </div>
      <div className="num leading-relaxed">
        <p>x {show(x, "deg", 0)}</p>
        <p>y {show(y, "deg", 0)}</p>
      </div>
    </div>
  );
}
