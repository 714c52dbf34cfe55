import { type PointerEvent, useRef } from "react";

import type { Doing } from "../api/generated";
import { show } from "../model/numbers";

const MOST = 45;

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
  return (
    <div className="flex items-center gap-3">
      <div
        ref={pad}
        className="relative size-[76px] shrink-0 touch-none rounded-full border border-rule bg-sheet"
        aria-hidden="true"
        data-handle="tilt"
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
      <div className="min-w-0 flex-1">
        <Axis name={`${name}.x`} says="nose down" value={x} onSet={(value) => set(value, y)} />
        <Axis name={`${name}.y`} says="right side down" value={y} onSet={(value) => set(x, value)} />
      </div>
    </div>
  );
}

/** One axis of the tilt: a slider of its own, as the pad has two of them and only a pointer can use it. */
function Axis({ name, says, value, onSet }: { name: string; says: string; value: number; onSet: (value: number) => void }) {
  return (
    <label className="block leading-tight">
      <span className="num flex justify-between gap-1">
        <span>{name.split(".").at(-1)}</span>
        <span>{show(value, "deg", 0)}</span>
      </span>
      <input
        type="range"
        className="block w-full accent-[var(--leaf)]"
        min={-MOST}
        max={MOST}
        step={1}
        value={value}
        data-handle={name}
        aria-label={`${name}, in deg: ${says}`}
        onChange={(event) => onSet(Number(event.target.value))}
      />
    </label>
  );
}
